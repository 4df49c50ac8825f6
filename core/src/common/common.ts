import * as z from 'zod';

export const Id = z.uuidv7('An id is a UUID of version 7.');
export const Name = z
  .string()
  .min(1, 'A name is needed.')
  .max(80, 'A name has at most 80 characters.')
  .refine((name) => name.trim() === name, 'A name neither starts nor ends with a blank.');
export const Note = z.string().max(2000, 'A note has at most 2000 characters.');
