import * as z from 'zod';
import { isKept, NOT_KEPT } from '../common/index.js';

/** The chapters that a book may have, in the order that it has by itself. */
export const bookChapters = [
  { chapter: 'lines', label: 'Lines', about: 'Who is on each, how it is wired, its parts and its wires' },
  { chapter: 'settings', label: 'Settings', about: 'How each device is to be set' },
  { chapter: 'maps', label: 'Register maps', about: 'Every point of every device' },
  { chapter: 'routes', label: 'Routes', about: 'Both ends, what is done on the way, and what happens on a loss' },
  { chapter: 'mapping', label: 'Mapping sheets', about: 'What is typed into each converter' },
  { chapter: 'requests', label: 'Requests', about: 'What each carrier asks, in its own terms' },
  { chapter: 'rounds', label: 'Rounds', about: 'Periods, load and age of the values, as forecast' },
  { chapter: 'losses', label: 'What is lost when', about: 'What becomes of the values when something fails' },
  { chapter: 'findings', label: 'Findings', about: 'What is still open, and how it is mended' },
  { chapter: 'proofs', label: 'Proofs', about: 'What was proved, value by value' },
  { chapter: 'found', label: 'As found', about: 'What devices and lines said, beside this revision' },
  { chapter: 'protocol', label: 'Protocol', about: 'The steps of acceptance, and who has signed them' },
  { chapter: 'revisions', label: 'Revisions', about: 'The revisions that have names' },
] as const;
export type BookChapter = (typeof bookChapters)[number]['chapter'];
export const BookChapter = z.enum(bookChapters.map(({ chapter }) => chapter) as [BookChapter, ...BookChapter[]]);

const text = (most: number) => z.string().trim().refine(isKept, NOT_KEPT).max(most, `At most ${most} characters.`);

/** A line of the title block: `Drawn by`, `K. Weaver`. */
const TitleLine = z.strictObject({ label: text(40).min(1, 'What is it?'), text: text(120) });

/** How the book of a project looks and what it contains, in order. */
export const Book = z.strictObject({
  company: text(120).default('').describe('Who hands it over'),
  logo: z
    .string()
    .regex(/^(data:image\/(png|jpeg);base64,[A-Za-z0-9+/]+=*)?$/, 'A PNG or JPEG picture.')
    .max(200_000, 'A picture of at most 150 kB.')
    .default('')
    .describe('A picture as a data URL; empty for none'),
  titleBlock: z.array(TitleLine).max(8, 'At most eight lines.').default([]),
  chapters: z
    .array(BookChapter)
    .min(1, 'At least one chapter.')
    .refine((chapters) => new Set(chapters).size === chapters.length, 'Each chapter once.')
    .default(bookChapters.map(({ chapter }) => chapter)),
});
export type Book = z.infer<typeof Book>;

/** The book of a new project: all that there is, with nobody’s name on it. */
export function plainBook(): Book {
  return Book.parse({});
}
