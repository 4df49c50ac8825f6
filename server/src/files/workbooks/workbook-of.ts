import { timeless } from '../pack.js';
import writeExcelFile, { type SheetData } from 'write-excel-file/node';

/** A sheet of a workbook: a head in bold, and rows below it. */
export interface WorkbookSheet {
  name: string;
  head: readonly string[];
  cells: readonly (readonly (string | number | null)[])[];
}

/** A workbook with one sheet: a head in bold, and rows below it; the same bytes for the same cells. */
export async function workbookOf(head: WorkbookSheet['head'], cells: WorkbookSheet['cells']): Promise<Buffer> {
  return timeless(await writeExcelFile(rowsOf({ head, cells })).toBuffer());
}

/** The same with several sheets, each with its name. */
export async function workbookOfSheets(sheets: readonly WorkbookSheet[]): Promise<Buffer> {
  const all = sheets.map((sheet) => ({ data: rowsOf(sheet), sheet: sheet.name, stickyRowsCount: 1 }));
  return timeless(await writeExcelFile(all).toBuffer());
}

function rowsOf({ head, cells }: Omit<WorkbookSheet, 'name'>): SheetData {
  return [
    head.map((value) => ({ value, fontWeight: 'bold' })),
    ...cells.map((row) => row.map((value) => (value === null ? null : { value, type: typeof value === 'number' ? Number : String }))),
  ];
}
