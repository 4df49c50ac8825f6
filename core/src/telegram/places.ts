import * as z from 'zod';
import { patternOf } from './patterns.js';

const ByPosition = z.strictObject({
  from: z.int('A position is a whole number.').min(-4096).max(4095).describe('The first character, from 0; negative from the end'),
  length: z.int('A whole number.').min(1, 'At least one character.').max(1024, 'At most 1024 characters.'),
});
const BySeparator = z.strictObject({
  separator: z.string().min(1, 'At least one character.').max(10, 'At most 10 characters.'),
  number: z.int('A whole number.').min(0, 'From 0.').max(999, 'At most 999.').describe('Which part between separators, from 0'),
});
const ByPattern = z.strictObject({
  pattern: z
    .string()
    .min(1, 'A pattern has at least one character.')
    .max(500, 'At most 500 characters.')
    .superRefine((pattern, context) => {
      try {
        patternOf(pattern);
      } catch (error) {
        context.addIssue({ code: 'custom', message: `This is no pattern: ${error instanceof Error ? error.message : String(error)}` });
      }
    }),
  group: z.int('A whole number.').min(0).max(99).optional().describe('Which bracket of it is the field; none: the first, or all of it'),
});

/** Where a field is. */
export const FieldAt = z.union([ByPosition, BySeparator, ByPattern]);
export type FieldAt = z.infer<typeof FieldAt>;
export type ByPosition = z.infer<typeof ByPosition>;
export type BySeparator = z.infer<typeof BySeparator>;
export type ByPattern = z.infer<typeof ByPattern>;
