import * as z from 'zod';
import { defineStep } from './definition.js';
import { number } from './fields.js';
import { onNumber, pass } from './values.js';

export const clamp = defineStep({
  schema: z
    .strictObject({ kind: z.literal('clamp'), low: number, high: number })
    .refine(({ low, high }) => low <= high, { message: 'The highest is below the lowest.', path: ['high'] }),
  blank: { kind: 'clamp', low: 0, high: 100 },
  label: 'limit',
  describe: ({ low, high }) => `within ${low} … ${high}`,
  run: ({ low, high }, value) => onNumber(value, (from) => pass(Math.min(high, Math.max(low, from)))),
  bounds: ({ low, high }, from) => ({
    low: Math.max(low, Math.min(high, from.low)),
    high: Math.min(high, Math.max(low, from.high)),
    known: true,
  }),
  cuts: ({ low, high }, value) => value < low || value > high,
  back: (_, value) => value,
});
