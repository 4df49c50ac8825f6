import * as z from 'zod';
import { ByteOrder, findOrder as find } from '../value/index.js';
import { reckoner } from './reckoner.js';
import { Word } from './word.js';
import { good } from '../outcome/index.js';
import { numericTypes } from '../types/index.js';

export const findOrder = reckoner({
  name: 'find-order',
  sentence: 'In which type, byte order and power of ten these registers give about the value that is expected, best first.',
  example: { words: [52_429, 17_014], expected: 61.7 },
  input: z.strictObject({
    words: z.array(Word).min(1, 'At least one register is needed.').max(125),
    expected: z.number('A number is expected.'),
    tolerance: z
      .number()
      .min(0, 'A tolerance is not negative.')
      .optional()
      .describe('How far a value may be away; 2 % where it is left out'),
  }),
  output: z.object({
    candidates: z.array(
      z.object({
        at: z.int().describe('Which of the registers it starts at, from 0'),
        type: z.enum(numericTypes),
        order: ByteOrder,
        factor: z.number(),
        value: z.number(),
        difference: z.number(),
      }),
    ),
  }),
  reckon: ({ words, expected, tolerance }) => good({ candidates: find(words, expected, tolerance) }),
});
