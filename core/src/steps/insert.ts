import * as z from 'zod';
import { defineStep } from './definition.js';
import { Bit, BitCount, pastTheEnd, spanText, staysInside } from './fields.js';
import { pass } from './values.js';

/** It does its work at the destination, where the registers are, and passes the value through. */
export const insert = defineStep({
  schema: z
    .strictObject({
      kind: z.literal('insert').describe('Into some bits of the destination; its others are left alone'),
      at: Bit,
      count: BitCount,
    })
    .refine(staysInside, pastTheEnd),
  blank: { kind: 'insert', at: 0, count: 1 },
  label: 'put into bits',
  describe: (step) => `into ${spanText(step)}`,
  run: (_, value) => pass(value),
  inverse: (step) => ({ ...step, kind: 'extract' }),
  check: (_, index, count) =>
    index < count - 1 ? { message: 'it puts the value into the destination, so no step can follow.', mend: 'Move it to the end.' } : null,
  intoBits: ({ at, count }) => ({ at, count }),
});
