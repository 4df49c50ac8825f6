import * as z from 'zod';
import { defineStep } from './definition.js';
import { onNumber, pass, tidy } from './values.js';

export const rate = defineStep({
  schema: z.strictObject({
    kind: z.literal('rate').describe('Moves at most this much a second'),
    perSecond: z.number('A number.').positive('More than 0.'),
  }),
  blank: { kind: 'rate', perSecond: 1 },
  label: 'limit how fast it moves',
  describe: ({ perSecond }) => `at most ${perSecond} a second`,
  run: ({ perSecond }, value, { nowMs }, before) =>
    onNumber(value, (from) => {
      if (!before) return pass(from);
      const most = (perSecond * Math.max(0, nowMs - before.atMs)) / 1000;
      return pass(tidy(before.value + Math.min(most, Math.max(-most, from - before.value))));
    }),
  looksBack: true,
  back: (_, value) => value,
  inProof: { not: 'It limits how fast its value moves, so a value cannot be expected at once.' },
});
