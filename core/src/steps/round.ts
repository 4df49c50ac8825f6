import * as z from 'zod';
import { defineStep } from './definition.js';
import { onNumber, pass, tidy } from './values.js';

const ways = { nearest: Math.round, down: Math.floor, up: Math.ceil } as const;

export const round = defineStep({
  schema: z.strictObject({
    kind: z.literal('round'),
    decimals: z.int('A whole number.').min(-9, 'From −9.').max(9, 'To 9.'),
    direction: z.enum(['nearest', 'down', 'up']),
  }),
  blank: { kind: 'round', decimals: 0, direction: 'nearest' },
  label: 'round',
  describe: ({ decimals, direction }) => {
    const way = direction === 'nearest' ? 'round' : `round ${direction}`;
    return decimals === 0 ? `${way} → whole` : `${way} to ${10 ** -decimals}`;
  },
  run: ({ decimals, direction }, value) =>
    onNumber(value, (from) => pass(tidy(ways[direction](tidy(from * 10 ** decimals)) / 10 ** decimals))),
  back: (_, value) => value,
});
