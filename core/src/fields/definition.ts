import type { Area, Notation, AddressReading, Table } from '../address/index.js';
import type { Point, PointBody } from '../model/index.js';
import type { Outcome } from '../outcome/index.js';
import type { ByteOrder } from '../value/index.js';

/** How addresses are written where a point is shown and typed. */
export interface FieldContext {
  notation: Notation;
  areas: readonly Area[];
}

/** A row of a manual's table while it becomes a point: fields take their cells in the order of the list, each what it needs. */
export interface Row extends FieldContext {
  /** The text of a field's cell; empty where no column has the field. */
  cell(field: string): string;
  /** Where neither the address nor a column tells the table, and none tells the order of 32- and 64-bit values. */
  usual: { table: Table; order: ByteOrder };
  /** The address as it was understood; null where it was not. */
  place: Pick<AddressReading, 'table' | 'offset' | 'bit'> | null;
  /** What the point is so far. */
  draft: PointBody;
  /** Says what keeps the row out. */
  fail(message: string): void;
  /** Says what of the cell was not understood: the row is taken without it, and a person has to say. `word`: what a word of it would settle. */
  open(message: string, word?: string): void;
  /** Says what is taken otherwise than it is written. */
  remark(message: string): void;
}

/** What typing into a cell changes of a point, and other ways to understand an address, where there are any. */
export interface Typed {
  fields: Partial<Point>;
  readings?: AddressReading[];
}

/** How far the cells of a column without a header look like a field: the share of them that do. */
export interface ByContent {
  /** The surest fields are looked for first. */
  rank: number;
  enough: number;
  share(cells: readonly string[]): number;
}

/** Everything that is said about one field of a point where points are shown, typed, read from tables and written to them. */
export interface FieldDefinition<Name extends string = string> {
  name: Name;
  /** How it is headed in manuals, in lower case and without punctuation. */
  headers: { test(header: string): boolean };
  content: ByContent | null;
  /** What of a point it speaks of; the rest stays as it is where a table has only some fields. */
  speaksOf: readonly (keyof PointBody)[];
  /** Takes its cell of a row; it says itself what does not fit. */
  take(row: Row): void;
  /** How it stands in a sheet that a person writes in; null where tables alone have it. */
  cell: SheetCell | null;
  /** How it stands in our own table. */
  csv: { head: string; text(point: Point): string } | null;
}

export interface SheetCell {
  label: string;
  /** How wide a column is that shows most of it. */
  characters: number;
  /** It is shown until a person hides it, or only when asked for. */
  isShown: boolean;
  /** Digits or codes, to be read one by one. */
  isCode: boolean;
  /** The texts that it takes, where they are few. */
  choices?: readonly string[];
  text(point: Point, context: FieldContext): string;
  /** What follows from the text is changed as well: a coil is one bit, an input register can only be read. */
  type(point: Point, text: string, context: FieldContext): Outcome<Typed>;
}

/** The share of cells that fit. */
export function shareOf(fits: (cell: string) => boolean): ByContent['share'] {
  return (cells) => (cells.length ? cells.filter(fits).length / cells.length : 0);
}

/** The share of cells that hold a word. */
export const wordsShare = shareOf((cell) => /[A-Za-zÀ-ÿ]{3}/.test(cell));

/** Headings made of words of which one at least is the thing itself, and the others say more of it, in any order. */
export function headedBy(things: string, others: string): FieldDefinition['headers'] {
  const [own, more] = [new Set(things.split(' ')), new Set(others.split(' '))];
  return {
    test: (header) => {
      const words = header.replace(/[()]/g, ' ').trim().split(/\s+/);
      return words.some((word) => own.has(word)) && words.every((word) => own.has(word) || more.has(word));
    },
  };
}

/** What the first of these patterns to fit stands for; null where none does. Case and blanks around do not count. */
export function firstFitting<T>(words: readonly (readonly [RegExp, T])[], text: string): T | null {
  const typed = text.trim().toLowerCase();
  return words.find(([pattern]) => pattern.test(typed))?.[1] ?? null;
}
