import type { BookContent } from './book.js';
import type { Block, Section } from './content.js';

/** A table of a book with where it stands: `Lines, Kiln bus, Wires`. */
export interface PlacedTable {
  chapter: string;
  where: string[];
  table: Extract<Block, { kind: 'table' }>;
}

/** All tables of a book, in its order. */
export function tablesOf({ chapters }: Pick<BookContent, 'chapters'>): PlacedTable[] {
  return chapters.flatMap((chapter) => tablesIn(chapter, chapter.title, []));
}

function tablesIn({ blocks, sections }: Section, chapter: string, where: string[]): PlacedTable[] {
  const own = blocks.flatMap((block) =>
    block.kind === 'table' ? [{ chapter, where: [...where, block.title].filter(Boolean), table: block }] : [],
  );
  return [...own, ...sections.flatMap((inner) => tablesIn(inner, chapter, [...where, inner.title]))];
}
