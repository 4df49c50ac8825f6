import type { KnownWord, MapOptions, MapReading, MapRow } from '../format/index.js';

/** A row as it is shown before it is taken. */
export type PreviewRow = Omit<MapRow, 'before'>;

/** A table of a document of which others are made of, and the pages on which it is. */
export interface PreviewPart {
  title: string;
  rows: number;
  pages: [first: number, last: number];
}

/** What is told of a file and of what would become of it; the first rows, and the first at which a person should look. */
export interface ImportPreview {
  id: string;
  what: string;
  /** A table of which the columns have to be understood, or points that are told outright. */
  kind: 'table' | 'points';
  /** Tables of a document, of which each can be left out. */
  parts: PreviewPart[];
  /** What people have said of words that stand in it. */
  known: KnownWord[];
  /** What a person should know of the file. */
  remarks: readonly string[];
  problem: string | null;
  reading: Omit<MapReading, 'rows'> | null;
  total: number;
  rows: PreviewRow[];
  problems: PreviewRow[];
  options: MapOptions;
}

/** What reading a file tells as it goes on; the last is what would become of it. */
export type OfferEvent =
  { kind: 'progress'; done: number; total: number } | { kind: 'offered'; preview: ImportPreview } | { kind: 'failed'; sentence: string };
