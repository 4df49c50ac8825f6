import '../formula/index.js';
import { compile } from '../compile/index.js';
import { type BookChapter, bookChapters } from '../model/index.js';
import { ProjectFile } from '../project-file/index.js';
import { type Section, section } from './content.js';
import type { BookSource } from './definition.js';
import { definitionOf } from './list.js';
import { momentText } from './moment.js';
import { scopeOf } from './scope.js';

/** A book as it is read, before it has pages. */
export interface BookContent {
  project: string;
  client: string;
  company: string;
  /** A picture as a data URL; empty for none. */
  logo: string;
  /** `Revision 214, As built`. */
  revision: string;
  /** `2026-11-29 14:05 UTC`; empty where that is not known. */
  at: string;
  note: string;
  titleBlock: readonly { label: string; text: string }[];
  chapters: Section[];
}

/**
 * The book of a project, with the chapters that the project says, in its order; with `lineIds` of what has to do with these lines
 * alone. `onProgress` hears how many are made. The same file always gives the same book; times in it are those of its revision.
 */
export function bookOf(
  given: ProjectFile,
  lineIds: readonly string[] | null = null,
  onProgress: (done: number, of: number) => void = () => undefined,
): BookContent {
  const source = sourceOf(given, lineIds);
  const { file } = source;
  const { project } = file.document;
  const { company, logo, chapters } = project.book;
  const part = file.document.lines.filter(({ id }) => lineIds?.includes(id)).map(({ name }) => name);
  const titleBlock = [...(part.length ? [{ label: 'Part', text: part.join(', ') }] : []), ...project.book.titleBlock];
  const named = file.revisions.find(({ revision }) => revision === file.revision);
  return {
    ...{ project: project.name, client: project.client, note: project.note, company, logo, titleBlock },
    revision: `Revision ${file.revision}${named ? `, ${named.name}` : ''}`,
    at: momentText(file.revisedAt),
    chapters: chapters.map((chapter, index) => {
      const made = chapterIn(source, chapter);
      onProgress(index + 1, chapters.length);
      return made;
    }),
  };
}

/** One chapter of it, whether the book has it or not. */
export function chapterOf(file: ProjectFile, chapter: BookChapter, lineIds: readonly string[] | null = null): Section {
  return chapterIn(sourceOf(file, lineIds), chapter);
}

/** Fields in the order of their schema, wherever the file comes from, so that the same file gives the same bytes. */
function sourceOf(given: ProjectFile, lineIds: readonly string[] | null): BookSource {
  const file = ProjectFile.parse(given);
  return { file, ...compile(file.document), isIn: scopeOf(file.document, lineIds) };
}

function chapterIn(source: BookSource, chapter: BookChapter): Section {
  const { blocks, sections } = definitionOf(chapter).make(source);
  return section(bookChapters.find((one) => one.chapter === chapter)!.label, blocks, sections);
}
