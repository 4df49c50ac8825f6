import { type Held, type Time104 } from '../iec104/index.js';

/** Types of the monitored direction that have no time, and how far on the same type with time is. */
export const PLAIN_TYPES = [1, 3, 9, 11, 13, 15] as const;
const TIMED: Readonly<Record<number, number>> = { 1: 30, 3: 31, 9: 34, 11: 35, 13: 36, 15: 37 };

export function timedType(type: number): number {
  return TIMED[type] ?? type;
}

export function timeIn({ time }: Held): Time104 | null {
  return typeof time === 'object' ? time : null;
}

/** Causes of transmission (IEC 60870-5-101, table 14) that stations give. */
export const cause = {
  ...{ periodic: 1, spontaneous: 3, initialised: 4, activation: 6, confirmed: 7, ended: 10, interrogated: 20, counters: 37 },
  ...{ unknownType: 44, unknownCause: 45, unknownStation: 46, unknownObject: 47 },
} as const;

/** What an interrogation is for: the whole station; all counters. */
export const [WHOLE_STATION, ALL_COUNTERS] = [20, 5];
/** ASDUs that are not about points. */
export const types = { initialised: 70, interrogation: 100, counters: 101, clock: 103, integrated: 15 } as const;
