import * as z from 'zod';

export const Id = z.uuidv7('An id is a UUID of version 7.');
/** PostgreSQL and JSON keep every character but these: a zero, and half of a pair of UTF-16. */
export function isKept(text: string): boolean {
  return !text.includes('\0') && !LONE_SURROGATE.test(text);
}
const LONE_SURROGATE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/;
export const NOT_KEPT = 'It holds a character that cannot be kept: a zero, or half of one.';

export const Name = z
  .string()
  .refine(isKept, NOT_KEPT)
  .min(1, 'A name is needed.')
  .max(80, 'A name has at most 80 characters.')
  .refine((name) => name.trim() === name, 'A name neither starts nor ends with a blank.');
export const Note = z.string().refine(isKept, NOT_KEPT).max(2000, 'A note has at most 2000 characters.');
