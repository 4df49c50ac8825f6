import { fieldOf, type MapField, mapFields } from '../fields/index.js';
import type { Point } from '../model/index.js';

const columns = mapFields.flatMap((field) => {
  const { csv } = fieldOf(field);
  return csv ? [{ field, ...csv }] : [];
});

/** The columns of our own table of registers; `readMap` reads every one of them back without loss. */
export const csvHeader: readonly string[] = columns.map(({ head }) => head);

/** Which field each of these columns is. */
export const csvFields: readonly MapField[] = columns.map(({ field }) => field);

/** A point as one row of that table. */
export function csvRow(point: Point): string[] {
  return columns.map(({ text }) => markText(text(point)));
}

/** What a spreadsheet would take for a formula is marked as text with an apostrophe. */
function markText(cell: string): string {
  return /^'*[=+\-@\t]/.test(cell) ? `'${cell}` : cell;
}

/** Takes one such mark off. */
export function unmarkText(cell: string): string {
  return cell.replace(/^'(?='*[=+\-@\t])/, '');
}
