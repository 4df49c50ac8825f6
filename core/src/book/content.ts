import type { Drawing } from '../wiring/index.js';

export type Cell = string | number | null;

export interface BookColumn {
  head: string;
  /** How much of the width it takes against the others; 1 where nothing is said. */
  weight?: number;
  /** Figures, which stand at the right. */
  isNumber?: boolean;
}

/** A piece of a book: words, names with what they are, a table, or a drawing. */
export type Block =
  | { kind: 'text'; text: string; tone?: 'plain' | 'problem' }
  | { kind: 'facts'; rows: readonly (readonly [name: string, is: string])[] }
  | { kind: 'table'; title: string; columns: readonly BookColumn[]; rows: readonly (readonly Cell[])[] }
  | { kind: 'drawing'; drawing: Drawing };

/** A part of a book under a heading. */
export interface Section {
  title: string;
  blocks: Block[];
  sections: Section[];
}

export function section(title: string, blocks: readonly (Block | null)[], sections: Section[] = []): Section {
  return { title, blocks: blocks.filter((block) => block !== null), sections };
}

export function words(text: string, tone?: 'plain' | 'problem'): Block {
  return { kind: 'text', text, ...(tone ? { tone } : {}) };
}

/** Names with what they are; those that say nothing are left out. */
export function facts(rows: readonly (readonly [string, string | number | null])[]): Block | null {
  const said = rows.flatMap(([name, is]) => (is === null || is === '' ? [] : [[name, String(is)] as const]));
  return said.length ? { kind: 'facts', rows: said } : null;
}

/** A column of a table that is made of rows: its head, and what it says of a row. */
export interface ColumnOf<Row> extends BookColumn {
  /** It is there also where nothing stands in it, to be filled in by hand. */
  stays?: boolean;
  of(row: Row): Cell;
}

/** A table of rows; null where there are none. Columns in which nothing stands are left out. */
export function table<Row>(title: string, columns: readonly ColumnOf<Row>[], rows: readonly Row[]): Block | null {
  if (rows.length === 0) return null;
  const filled = columns.flatMap((column) => {
    const cells = rows.map(column.of);
    return column.stays || cells.some((cell) => cell !== null && cell !== '') ? [{ column, cells }] : [];
  });
  return {
    kind: 'table',
    title,
    columns: filled.map(({ column: { head, weight, isNumber } }) => ({
      head,
      ...(weight ? { weight } : {}),
      ...(isNumber ? { isNumber } : {}),
    })),
    rows: rows.map((_, index) => filled.map(({ cells }) => cells[index]!)),
  };
}
