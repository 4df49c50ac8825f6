import { fieldOfHeader } from '../fields/index.js';
import type { Cell, FoundTable, LaidRow } from '../pages/index.js';
import { asFilled } from './columns.js';
import type { TextTable } from './read-map.js';

/**
 * The tables of a document as one, with a column for each field that any of them has, and one for each other name of a column. What
 * footnotes say goes into the note.
 */
export function fromPages(tables: readonly FoundTable[]): TextTable {
  const columns = new Map<string, string>();
  const places = tables.map((table) =>
    keysOf(table).map((key, at) => {
      if (!columns.has(key)) columns.set(key, table.header[at] || `Column ${at + 1}`);
      return key;
    }),
  );
  const hasFootnotes = tables.some(({ rows }) => rows.some(({ footnotes }) => footnotes?.length));
  if (hasFootnotes && !columns.has('note')) columns.set('note', 'Note');
  const order = [...columns.keys()];
  const table: Required<Pick<TextTable, 'rows' | 'parts' | 'places' | 'doubts'>> = {
    ...{ rows: [[...columns.values()]], parts: [], places: [null], doubts: [[]] },
  };
  for (const [index, { title, header, rows }] of tables.entries()) {
    const from = table.rows.length;
    const keys = places[index]!;
    const addressAt = keys.indexOf('address');
    for (const [at, row] of rows.entries()) {
      const texts = textsOf(rows, at, addressAt);
      const cells = order.map((key) => {
        const text = texts[keys.indexOf(key)] ?? '';
        return key === 'note' ? [text, ...(row.footnotes ?? [])].filter(Boolean).join('\n') : text;
      });
      table.rows.push(cells);
      table.places.push(row.place);
      table.doubts.push(row.doubts);
    }
    table.parts.push({ title, from, to: table.rows.length, header: order.map((key) => header[keys.indexOf(key)] ?? '') });
  }
  return table;
}

/** What each column is known by in all tables: its field, or else its own name. */
function keysOf({ header, rows }: FoundTable): string[] {
  const seen = new Map<string, number>();
  const body = rows.map(({ cells }) => cells.map(({ text }) => text));
  const fields = header.map((text, column) => asFilled(fieldOfHeader(text), column, body));
  // A table with one descriptive column calls it what it likes; a point needs a name more than a note.
  if (!fields.includes('name') && fields.includes('note')) fields[fields.indexOf('note')] = 'name';
  return header.map((text, column) => {
    const key = fields[column] ?? `“${text.toLowerCase().trim()}”`;
    const count = (seen.get(key) ?? 0) + 1;
    seen.set(key, count);
    return count === 1 ? key : `${key} ${count}`;
  });
}

/**
 * The texts of a row. What goes on from the row above is there again, unless its address does: then this row is a part of that one,
 * and has only what is its own.
 */
function textsOf(rows: readonly LaidRow[], at: number, addressAt: number): string[] {
  const { cells } = rows[at]!;
  if (cells[addressAt]?.continues) return cells.map(({ text }) => text);
  return cells.map((cell, column) => (cell.continues ? rootOf(rows, at, column).text : cell.text));
}

function rootOf(rows: readonly LaidRow[], at: number, column: number): Cell {
  const cell = rows[at]!.cells[column]!;
  return cell.continues && at > 0 ? rootOf(rows, at - 1, column) : cell;
}
