import { timeless } from '../pack.js';
import writeExcelFile, { type SheetData } from 'write-excel-file/node';

/** A workbook with one sheet: a head in bold, and rows below it; the same bytes for the same cells. */
export async function workbookOf(head: readonly string[], cells: readonly (readonly (string | number | null)[])[]): Promise<Buffer> {
  const rows: SheetData = [
    head.map((value) => ({ value, fontWeight: 'bold' })),
    ...cells.map((row) => row.map((value) => (value === null ? null : { value, type: typeof value === 'number' ? Number : String }))),
  ];
  return timeless(await writeExcelFile(rows).toBuffer());
}
