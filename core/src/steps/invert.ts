import * as z from 'zod';
import { defineStep } from './definition.js';
import { BitCount } from './fields.js';
import { maskOf, onWhole, pass } from './values.js';

export const invert = defineStep({
  schema: z.strictObject({ kind: z.literal('invert').describe('Every bit the other way round'), count: BitCount }),
  blank: { kind: 'invert', count: 1 },
  label: 'invert bits',
  describe: ({ count }) => (count === 1 ? 'inverted' : `${count} bits inverted`),
  run: ({ count }, value) => onWhole(value, (whole) => pass(Number(~whole & maskOf(count)))),
  inverse: (step) => step,
  bounds: ({ count }) => ({ low: 0, high: 2 ** count - 1, known: true }),
});
