/**
 * What a device on a serial line has counted of its own communication since its power came or it was cleared, each from 0 to 65535
 * and around (V1.1b3, 6.8 and 6.9); null where it does not have that counter.
 */
export interface DeviceCounters {
  /** When it was asked, ms since 1970. */
  atMs: number;
  messages: number | null;
  damaged: number | null;
  exceptions: number | null;
  toIt: number | null;
  unanswered: number | null;
  notTaken: number | null;
  busy: number | null;
  overruns: number | null;
  commands: number | null;
}

export type DeviceCounter = Exclude<keyof DeviceCounters, 'atMs'>;

/** Each counter as a person calls it, with the sub-function of 8 that reads it; null for the event counter, which is function 11. */
export const deviceCounters: Readonly<Record<DeviceCounter, { name: string; sub: number | null }>> = {
  messages: { name: 'messages on the line', sub: 11 },
  damaged: { name: 'damaged messages', sub: 12 },
  exceptions: { name: 'exceptions', sub: 13 },
  toIt: { name: 'messages to it', sub: 14 },
  unanswered: { name: 'not answered', sub: 15 },
  notTaken: { name: 'not taken', sub: 16 },
  busy: { name: 'too busy', sub: 17 },
  overruns: { name: 'overruns', sub: 18 },
  commands: { name: 'carried out', sub: null },
};
