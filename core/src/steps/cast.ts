import * as z from 'zod';
import { rangeOf } from '../types/index.js';
import { defineStep } from './definition.js';
import { onNumber, pass } from './values.js';

const schema = z.strictObject({
  kind: z.literal('cast').describe('Taken as a whole number of this type'),
  type: z.enum(['int16', 'uint16', 'int32', 'uint32']),
  past: z.enum(['wrap', 'stop']).describe('What happens past its range: begin again at the other end, or stay at the end'),
});

export const cast = defineStep({
  schema,
  blank: { kind: 'cast', type: 'int16', past: 'stop' },
  label: 'take as a whole type',
  describe: ({ type, past }) => `as ${type}, ${past === 'wrap' ? 'wraps' : 'stops at its ends'}`,
  run: (step, value) => onNumber(value, (from) => pass(castTo(Math.trunc(from), step))),
  bounds: ({ type }) => ({ ...rangeOf(type), known: true }),
});

function castTo(whole: number, { type, past }: z.infer<typeof schema>): number {
  const { low, high } = rangeOf(type);
  if (past === 'stop') return Math.min(high, Math.max(low, whole));
  const span = high - low + 1;
  return ((((whole - low) % span) + span) % span) + low;
}
