import * as z from 'zod';
import { type MapField, mapFields } from '../fields/index.js';

/** What a person has said that a word in a column of a manual means: a text that the field knows; empty where it says nothing. */
export const KnownWord = z.strictObject({
  field: z.enum(mapFields),
  word: z.string().trim().min(1).max(200).toLowerCase(),
  meaning: z.string().trim().max(200),
});
export type KnownWord = z.infer<typeof KnownWord>;

/** The text of a cell, in words that its field knows. */
export function translated(words: readonly KnownWord[] | undefined, field: MapField, text: string): string {
  if (!words?.length || !text) return text;
  const plain = text.toLowerCase();
  return words.find((known) => known.field === field && known.word === plain)?.meaning ?? text;
}
