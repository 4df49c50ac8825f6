import { requestCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { csvFile } from './spreadsheet.js';

/** Text that a spreadsheet would take for a formula stays text. */
export const sheetCsv = defineFormat({
  of: 'sheet',
  id: 'csv',
  title: 'CSV',
  mediaType: 'text/csv; charset=utf-8',
  extension: 'csv',
  write: ({ sheet }) => {
    const { head, cells } = requestCells(sheet);
    return csvFile([head, ...cells], { escapeFormulae: true });
  },
});
