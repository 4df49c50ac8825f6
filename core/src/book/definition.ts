import type { Finding } from '../findings/index.js';
import type { BookChapter } from '../model/index.js';
import type { Plan } from '../plan/index.js';
import type { ProjectFile } from '../project-file/index.js';
import type { Block, Section } from './content.js';
import type { IsIn } from './scope.js';

/** What a book is made of: a project as its file says it, and what follows from it. */
export interface BookSource {
  file: ProjectFile;
  plan: Plan;
  findings: readonly Finding[];
  /** What the book is about: all of the project, or a part of it. The plan and what is reckoned are of the whole. */
  isIn: IsIn;
}

/** A chapter of a book; `make` gives its sections, and what stands before them. */
export interface Chapter {
  chapter: BookChapter;
  make(source: BookSource): { blocks: (Block | null)[]; sections: Section[] };
}

export function defineChapter(chapter: Chapter): Chapter {
  return chapter;
}
