import { defineFormat } from './definition.js';
import { cellsOf } from './sheet-columns.js';
import { csvFile } from './spreadsheet.js';

/** Text that a spreadsheet would take for a formula stays text. */
export const sheetCsv = defineFormat({
  of: 'sheet',
  id: 'csv',
  title: 'CSV',
  mediaType: 'text/csv; charset=utf-8',
  extension: 'csv',
  write: ({ sheet }) => {
    const { head, cells } = cellsOf(sheet);
    return csvFile([head, ...cells], { escapeFormulae: true });
  },
});
