import { lossCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { csvFile } from './spreadsheet.js';

/** Text that a spreadsheet would take for a formula stays text. */
export const lossesCsv = defineFormat({
  of: 'losses',
  id: 'csv',
  title: 'CSV',
  mediaType: 'text/csv; charset=utf-8',
  extension: 'csv',
  write: ({ losses }) => {
    const { head, cells } = lossCells(losses);
    return csvFile([head, ...cells], { escapeFormulae: true });
  },
});
