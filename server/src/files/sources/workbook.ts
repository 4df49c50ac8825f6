import { recogniseTable } from '@plain-envoy/core/format';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { readSheets, type Sheet } from '../workbook.js';
import type { Source } from './definition.js';

/** A workbook is a ZIP archive. */
export function isWorkbook(bytes: Buffer): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b;
}

/** The sheet that looks most like a register map, else the first with anything in it. */
export async function readWorkbook(bytes: Buffer): Promise<Outcome<Source>> {
  const book = await readSheets(bytes);
  if (!book.ok) return book;
  const { sheets, merged } = book.value;
  const filled = sheets.filter(({ rows }) => rows.length > 0);
  const best = filled.find(({ rows }) => recogniseTable(rows)) ?? filled[0];
  if (!best) return bad('The workbook is empty.');
  return good({
    kind: 'table',
    what: `A workbook, sheet “${best.name}”${others(filled, best)}`,
    remarks: mergedRemark(merged),
    table: { rows: best.rows },
  });
}

function others(sheets: readonly Sheet[], chosen: Sheet): string {
  const names = sheets.filter((sheet) => sheet !== chosen).map(({ name }) => `“${name}”`);
  return names.length ? ` (not read: ${names.slice(0, 5).join(', ')})` : '';
}

function mergedRemark(merged: readonly string[]): string[] {
  if (merged.length === 0) return [];
  const which = `${merged.slice(0, 4).join(', ')}${merged.length > 4 ? ` and ${merged.length - 4} more` : ''}`;
  return [`Cells are merged in it (${which}): only the upper left of each holds what is written there, the others are read as empty.`];
}
