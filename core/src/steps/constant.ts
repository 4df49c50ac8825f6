import * as z from 'zod';
import { defineStep } from './definition.js';
import { number } from './fields.js';
import { pass } from './values.js';

export const constant = defineStep({
  schema: z.strictObject({ kind: z.literal('constant'), value: number }),
  blank: { kind: 'constant', value: 0 },
  label: 'constant',
  describe: ({ value }) => `always ${value}`,
  run: ({ value }) => pass(value),
  bounds: ({ value }) => ({ low: value, high: value, known: true }),
  inProof: { not: 'What arrives does not depend on its source, so sending values shows nothing.' },
});
