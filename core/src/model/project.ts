import * as z from 'zod';
import { Id, isKept, Name, NOT_KEPT, Note } from '../common/index.js';
import { Book, plainBook } from './book.js';

export const Project = z.strictObject({
  ...{ id: Id, name: Name, note: Note },
  client: z.string().refine(isKept, NOT_KEPT).max(120, 'A client has at most 120 characters.').default('').describe('For whom it is'),
  resumes: z.boolean().default(true).describe('After the server broke down, the bench goes on by itself where it ran on stand-ins'),
  book: Book.default(plainBook).describe('The book that is handed over'),
});
export type Project = z.infer<typeof Project>;

/** A new project in which nothing is. */
export function blankProject(id: string, name: string, client = ''): Project {
  return { id, name, client, note: '', resumes: true, book: plainBook() };
}

/** This name, with a number behind it where another project has it already: `Mill`, `Mill (2)`. */
export function freeName(name: string, taken: readonly string[]): string {
  const base = name.replace(/ \(\d+\)$/, '').slice(0, 74);
  for (let number = 2, free = name; ; number++) {
    if (!taken.includes(free)) return free;
    free = `${base} (${number})`;
  }
}

/** The project of the demo, by which it is known without its being loaded. */
export const DEMO_ID = '019aa000-0000-7000-8000-000000000001';
