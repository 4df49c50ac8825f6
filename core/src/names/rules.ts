import * as z from 'zod';

/** What a name may be, where it goes. */
export const NameRules = z.strictObject({
  maxLength: z.int().min(4, 'At least 4 characters.').max(255),
  allow: z
    .string()
    .max(100)
    .refine(isClass, 'Characters that are allowed, as between the brackets of a regular expression: A-Za-z0-9_')
    .describe('Characters that are allowed, as between the brackets of a regular expression: A-Za-z0-9_'),
  case: z.enum(['as-is', 'upper', 'lower', 'camel', 'snake']),
  reserved: z.array(z.string()).max(5000).optional(),
  firstMustBeLetter: z.boolean().optional(),
});
export type NameRules = z.infer<typeof NameRules>;

function isClass(text: string): boolean {
  try {
    // A bracket would end the class and let any expression in.
    return text !== '' && !/[[\]\\^]/.test(text) && new RegExp(`^[${text}]$`, 'u').test('a') !== null;
  } catch {
    return false;
  }
}
