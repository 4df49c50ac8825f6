import { defineFormat } from './definition.js';
import { cellsOf } from './sheet-columns.js';
import { workbookOf } from './workbook-of.js';

export const sheetWorkbook = defineFormat({
  of: 'sheet',
  id: 'xlsx',
  title: 'XLSX',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: ({ sheet }) => {
    const { head, cells } = cellsOf(sheet);
    return workbookOf(head, cells);
  },
});
