import * as z from 'zod';
import { defineStep } from './definition.js';
import { onNumber, pass, tidy } from './values.js';
import { readExpression } from './expression.js';

/** A formula that gives so many times as much for all of these, and 0 for 0, only multiplies. */
const SAMPLES = [1, -1, 3.5, 1000, -77_777];

export const arithmetic = defineStep({
  schema: z.strictObject({
    kind: z.literal('arithmetic'),
    expression: z.string().min(1, 'An expression in x.').max(200, 'At most 200 characters.').describe('In one variable, x'),
  }),
  blank: { kind: 'arithmetic', expression: 'x' },
  label: 'formula',
  describe: ({ expression }) => expression,
  run: ({ expression }, value) =>
    onNumber(value, (x) => {
      const read = readExpression(expression);
      const result = read.ok ? read.value.at(x) : read;
      return result.ok ? pass(tidy(result.value)) : result;
    }),
  multiplies: ({ expression }) => {
    const read = readExpression(expression);
    const at = (x: number) => (read.ok ? read.value.at(x) : read);
    const factors = SAMPLES.map((x) => {
      const result = at(x);
      return result.ok ? result.value / x : NaN;
    });
    const zero = at(0);
    const [first] = factors as [number];
    return zero.ok && zero.value === 0 && first !== 1 && factors.every((factor) => Math.abs(factor - first) <= 1e-9 * Math.abs(first));
  },
  bounds: () => ({ low: -Infinity, high: Infinity, known: false }),
  check: ({ expression }) => {
    const read = readExpression(expression);
    return read.ok ? null : { message: read.problem.message, mend: 'Write a formula of numbers and x, such as (x - 32) / 1.8.' };
  },
});
