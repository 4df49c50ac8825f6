import * as z from 'zod';
import { bad } from '../outcome/index.js';
import { defineStep } from './definition.js';
import { onWhole, pass } from './values.js';

const Code = z.int('A code is a whole number.');

export const codes = defineStep({
  schema: z.strictObject({
    kind: z.literal('codes'),
    pairs: z
      .array(z.strictObject({ from: Code, to: Code }))
      .min(1, 'At least one pair of codes.')
      .max(256, 'At most 256 pairs.')
      .refine((pairs) => new Set(pairs.map(({ from }) => from)).size === pairs.length, 'A code is listed twice.'),
    otherwise: Code.nullable().describe('For codes that are not listed; none: they are not carried'),
  }),
  blank: { kind: 'codes', pairs: [{ from: 0, to: 0 }], otherwise: null },
  label: 'codes to codes',
  describe: ({ pairs }) => (pairs.length > 2 ? `${pairs.length} codes` : pairs.map(({ from, to }) => `${from} → ${to}`).join(', ')),
  run: ({ pairs, otherwise }, value) =>
    onWhole(value, (whole) => {
      const pair = pairs.find(({ from }) => BigInt(from) === whole);
      if (pair) return pass(pair.to);
      return otherwise === null ? bad(`Code ${whole} is not in the list.`) : pass(otherwise);
    }),
  inverse: ({ pairs }) => {
    const back = pairs.map(({ from, to }) => ({ from: to, to: from }));
    return new Set(back.map(({ from }) => from)).size === back.length ? { kind: 'codes', pairs: back, otherwise: null } : null;
  },
  bounds: ({ pairs, otherwise }) => {
    const all = [...pairs.map(({ to }) => to), ...(otherwise === null ? [] : [otherwise])];
    return { low: Math.min(...all), high: Math.max(...all), known: true };
  },
});
