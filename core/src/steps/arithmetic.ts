import * as z from 'zod';
import { defineStep } from './definition.js';
import { onNumber, pass, tidy } from './values.js';
import { readExpression } from './expression.js';

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
  bounds: () => ({ low: -Infinity, high: Infinity, known: false }),
  check: ({ expression }) => {
    const read = readExpression(expression);
    return read.ok ? null : { message: read.problem.message, mend: 'Write a formula of numbers and x, such as (x - 32) / 1.8.' };
  },
});
