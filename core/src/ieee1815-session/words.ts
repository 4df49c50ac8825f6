import { type Fragment, type Held, type ObjectHeader } from '../ieee1815/index.js';

/** Functions of the application layer (IEEE 1815, 4.2.2.5). */
export const does = {
  ...{ confirm: 0, read: 1, write: 2, select: 3, operate: 4, directOperate: 5, enable: 20, disable: 21, delay: 23, recordTime: 24 },
  ...{ answer: 129, unsolicited: 130 },
} as const;

/** Internal indications by their bits. */
export const indicates = {
  ...{ needsTime: 1 << 4, restarted: 1 << 7, notSupported: 1 << 8, objectUnknown: 1 << 9, parameterWrong: 1 << 10, eventsLost: 1 << 11 },
  ofClass: (eventClass: number) => 1 << eventClass,
} as const;

/** What became of a command (IEEE 1815, table of control status). */
export const became = { accepted: 0, tooLongAgo: 1, notSelected: 2, notSupported: 4, refused: 6 } as const;

export const [ALL, COUNTED, INDEXED] = [0x06, 0x07, 0x28];
export const RESTART_BIT = 7;

/** One header that asks for all of something. */
export const allOf = (group: number, variation: number): ObjectHeader => ({ group, variation, qualifier: ALL, objects: [] });
export const indexed = (group: number, variation: number, objects: { index: number; held: Held }[]): ObjectHeader => ({
  ...{ group, variation, qualifier: INDEXED, objects },
});

export function fragmentOf(fields: Pick<Fragment, 'functionCode' | 'sequence'> & Partial<Fragment>): Fragment {
  return { isFirst: true, isFinal: true, wantsConfirm: false, isUnsolicited: false, indications: null, headers: [], ...fields };
}
