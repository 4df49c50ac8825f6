import * as z from 'zod';
import { defineStep } from './definition.js';
import { Bit, BitCount, pastTheEnd, spanText, staysInside } from './fields.js';
import { maskOf, onWhole, pass } from './values.js';

export const extract = defineStep({
  schema: z
    .strictObject({ kind: z.literal('extract').describe('Some bits of a whole number'), at: Bit, count: BitCount })
    .refine(staysInside, pastTheEnd),
  blank: { kind: 'extract', at: 0, count: 1 },
  label: 'take bits out',
  describe: spanText,
  run: ({ at, count }, value) => onWhole(value, (whole) => pass(Number((whole >> BigInt(at)) & maskOf(count)))),
  inverse: (step) => ({ ...step, kind: 'insert' }),
  bounds: ({ count }) => ({ low: 0, high: 2 ** count - 1, known: true }),
});
