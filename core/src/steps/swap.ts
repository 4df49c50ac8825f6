import * as z from 'zod';
import { defineStep } from './definition.js';
import { pass } from './values.js';

/** It does its work at the source, where the registers are, and passes the value through. It corrects what a map says of them. */
export const swap = defineStep({
  schema: z.strictObject({ kind: z.literal('swap').describe('Before the value is read'), what: z.enum(['bytes', 'words', 'both']) }),
  blank: { kind: 'swap', what: 'words' },
  label: 'swap bytes or words',
  describe: ({ what }) => (what === 'both' ? 'bytes and words swapped' : `${what} swapped`),
  run: (_, value) => pass(value),
  inverse: (step) => step,
  inProof: 'passed',
  check: ({ what }, index) =>
    index > 0
      ? { message: `it swaps ${what}, but only registers have them.`, mend: 'Move it to the front, where the registers are read.' }
      : null,
  ofSource: ({ what }, words) => {
    const turned = what === 'bytes' ? words : [...words].reverse();
    return what === 'words' ? turned : turned.map((word) => ((word & 0xff) << 8) | (word >>> 8));
  },
});
