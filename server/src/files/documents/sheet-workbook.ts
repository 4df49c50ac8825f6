import writeExcelFile, { type SheetData } from 'write-excel-file/node';
import { defineFormat } from './definition.js';
import { cellsOf } from './sheet-columns.js';

export const sheetWorkbook = defineFormat({
  of: 'sheet',
  id: 'xlsx',
  title: 'XLSX',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: ({ sheet }) => {
    const { head, cells } = cellsOf(sheet);
    const rows: SheetData = [
      head.map((value) => ({ value, fontWeight: 'bold' })),
      ...cells.map((row) => row.map((value) => (value === null ? null : { value, type: typeof value === 'number' ? Number : String }))),
    ];
    return writeExcelFile(rows).toBuffer();
  },
});
