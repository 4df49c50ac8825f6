import type { Section } from '@plain-envoy/core/book';
import type { BookChapter } from '@plain-envoy/core/model';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import type { DocumentFile } from '../documents/index.js';

/** What a binding thread is asked. */
export type Task =
  | { kind: 'book'; file: ProjectFile; lineIds: readonly string[] | null; formats: readonly string[]; stem: string }
  /** One chapter, to be read on the page. */
  | { kind: 'chapter'; file: ProjectFile; lineIds: readonly string[] | null; chapter: BookChapter };

export interface Answers {
  book: DocumentFile[];
  chapter: Section;
}
