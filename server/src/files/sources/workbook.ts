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
  const sheets = await readSheets(bytes);
  if (!sheets.ok) return sheets;
  const filled = sheets.value.filter(({ rows }) => rows.length > 0);
  const best = filled.find(({ rows }) => recogniseTable(rows)) ?? filled[0];
  if (!best) return bad('The workbook is empty.');
  return good({ kind: 'table', what: `A workbook, sheet “${best.name}”${others(filled, best)}`, table: { rows: best.rows } });
}

function others(sheets: readonly Sheet[], chosen: Sheet): string {
  const names = sheets.filter((sheet) => sheet !== chosen).map(({ name }) => `“${name}”`);
  return names.length ? ` (not read: ${names.slice(0, 5).join(', ')})` : '';
}
