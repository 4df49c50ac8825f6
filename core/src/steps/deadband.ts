import * as z from 'zod';
import { good } from '../outcome/index.js';
import { defineStep } from './definition.js';
import { onNumber, pass } from './values.js';

export const deadband = defineStep({
  schema: z.strictObject({
    kind: z.literal('deadband').describe('Carried only when it has moved by this much'),
    by: z.number('A number.').positive('More than 0.'),
  }),
  blank: { kind: 'deadband', by: 1 },
  label: 'only when it has moved',
  describe: ({ by }) => `moved by ${by}`,
  run: ({ by }, value, _, before) =>
    onNumber(value, (from) => (before && Math.abs(from - before.value) < by ? good({ kind: 'held' }) : pass(from))),
  looksBack: true,
  back: (_, value) => value,
  inProof: 'passed',
});
