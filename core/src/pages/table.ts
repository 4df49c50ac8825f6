import type { Page, PlaceOnPage } from './page.js';
import type { Word } from './words.js';

/** What a page is to those who find tables on it. */
export type Sheet = Pick<Page, 'number' | 'width' | 'height' | 'turns'>;

/** A line of print that is told apart by columns. */
export interface CutLine {
  y: number;
  size: number;
  /** A list of words for each column. */
  cells: Word[][];
  /** Something on it goes over the edge of a column. */
  isCrossing: boolean;
}

/** A part of a table between two rules that go across, or a whole table that has none. */
export interface Band {
  y0: number;
  y1: number;
  lines: CutLine[];
  /** Of each column, whether its cell goes on from the band above. */
  continues: boolean[];
}

/** A table as it lies on one page, before it is known what it holds. */
export interface LaidTable {
  sheet: Sheet;
  x0: number;
  x1: number;
  y0: number;
  y1: number;
  /** Where columns begin, and where the last of them ends. */
  edges: number[];
  bands: Band[];
  /** The names of its columns, where they were found before it was laid out. */
  header: string[] | null;
}

/** A cell as text; lines of it are kept apart. */
export interface Cell {
  text: string;
  marks: string[];
  /** It is part of the cell above. */
  continues: boolean;
}

/** A row of a table. */
export interface LaidRow {
  cells: Cell[];
  place: PlaceOnPage;
  doubts: string[];
  /** What footnotes say that it sends to. */
  footnotes?: string[];
}

/** A table of a document, over as many pages as it goes. */
export interface FoundTable {
  /** What stands over it. */
  title: string;
  header: string[];
  rows: LaidRow[];
}
