import type { Freshness } from '../converter/index.js';
import type { Standard } from '../telecontrol-line/index.js';

/** How good a value is: as what it lies in, or past what its form can say. */
export type Quality = Freshness | 'past its range' | 'bad';
type Flags = Record<string, boolean>;

/** The flags of a standard that say so: of IEC 60870-5-104 (IEC 60870-5-101, 7.2.6.3), and of IEEE 1815 (11.6). */
export function flagsOf(standard: Standard, quality: Quality): Flags {
  if (standard === 'ieee1815')
    return {
      ...{ online: quality === 'good' || quality === 'past its range', restart: quality === 'unwritten' },
      ...{ communicationLost: quality === 'old', overRange: quality === 'past its range' },
    };
  return {
    ...{ invalid: quality === 'unwritten' || quality === 'bad', notTopical: quality === 'old' },
    overflow: quality === 'past its range',
  };
}

const says: readonly (readonly [flag: string, words: string])[] = [
  ['invalid', 'invalid'],
  ['notTopical', 'not topical'],
  ['overflow', 'overflow'],
  ['blocked', 'blocked'],
  ['substituted', 'substituted'],
  ['restart', 'not known since its restart'],
  ['communicationLost', 'communication lost'],
  ['overRange', 'past its range'],
  ['referenceError', 'reference wrong'],
];
/** What makes a value no worse: it is what somebody wants it to be. */
const HARMLESS = new Set(['blocked', 'substituted']);

/** Whether what came is good, and in which words not. */
export function qualityOf(standard: Standard, held: Readonly<Record<string, unknown>>): { isGood: boolean; quality: string } {
  const said = says.filter(([flag]) => held[flag] === true);
  const isOffline = standard === 'ieee1815' && held['online'] !== true;
  const words = [...said.map(([, text]) => text), ...(isOffline && said.length === 0 ? ['offline'] : [])];
  return { isGood: !isOffline && said.every(([flag]) => HARMLESS.has(flag)), quality: words.join(', ') };
}
