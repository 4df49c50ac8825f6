import * as z from 'zod';
import { defineStep } from './definition.js';
import { pass } from './values.js';

/** What each pattern is called, and how many values it goes through before it begins again at 0. */
const patterns = {
  toggle: { name: 'a bit that turns over', values: 2 },
  counter: { name: 'a counter', values: 65_536 },
  clock: { name: 'the seconds of the hour', values: 3600 },
} as const;
export type BeatPattern = keyof typeof patterns;

export const beatNames = Object.fromEntries(Object.entries(patterns).map(([pattern, { name }]) => [pattern, name])) as Readonly<
  Record<BeatPattern, string>
>;

export const beat = defineStep({
  schema: z.strictObject({
    kind: z.literal('beat').describe('A heartbeat in the value’s place, as long as the value comes'),
    pattern: z.enum(['toggle', 'counter', 'clock']).describe('A bit that turns over, a count, or the seconds of the hour'),
    everyMs: z.int('A whole number of milliseconds.').min(100, 'At least 100 ms.').max(600_000, 'At most ten minutes.'),
  }),
  blank: { kind: 'beat', pattern: 'counter', everyMs: 1000 },
  label: 'heartbeat',
  describe: ({ pattern }) => `heartbeat, ${pattern}`,
  run: ({ pattern, everyMs }, _, { nowMs }) => pass(Math.floor(nowMs / (pattern === 'clock' ? 1000 : everyMs)) % patterns[pattern].values),
  movesByItself: true,
  bounds: ({ pattern }) => ({ low: 0, high: patterns[pattern].values - 1, known: true }),
  inProof: { not: 'What arrives does not depend on its source, so sending values shows nothing.' },
});
