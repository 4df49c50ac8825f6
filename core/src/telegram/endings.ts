import * as z from 'zod';
import { fromHex } from '../frame/index.js';

/** Bytes in hex, in at most so many characters. */
export function hexBytes(most: number, message: string) {
  return z
    .string()
    .max(most, message)
    .superRefine((text, context) => {
      const bytes = fromHex(text);
      if (!bytes.ok) context.addIssue({ code: 'custom', message: bytes.problem.message });
    });
}

const Mark = hexBytes(24, 'At most 8 bytes.');

const LengthField = z.strictObject({
  from: z.int('A position is a whole number.').min(0, 'From 0.').max(255),
  length: z.int('A whole number.').min(1, 'At least one.').max(8, 'At most 8.'),
  written: z.enum(['hex', 'decimal', 'raw']),
  adds: z.int('A whole number.').min(-4096).max(4096).default(0).describe('What is added to it to get the length of the whole text'),
});
export type LengthField = z.infer<typeof LengthField>;

/** The ways in which a telegram may end, of which it has one. */
export const endingShapes = {
  end: z.array(Mark).min(1, 'At least one end mark.').max(8, 'At most 8 end marks.').optional().describe('One of these bytes ends it'),
  length: z
    .int('A whole number.')
    .min(1, 'At least one byte.')
    .max(4096, 'At most 4096 bytes.')
    .optional()
    .describe('It always has so many bytes'),
  lengthField: LengthField.optional().describe('It says itself how long it is'),
  silence: z.literal(true).optional().describe('It ends when nothing comes for a while'),
};

export const endingKeys = ['end', 'length', 'lengthField', 'silence'] as const;
