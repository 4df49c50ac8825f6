import { mappingCells } from '@plain-envoy/core/handover';
import { defineFormat } from './definition.js';
import { csvFile } from './spreadsheet.js';

export const mappingCsv = defineFormat({
  of: 'mapping',
  id: 'csv',
  title: 'CSV',
  mediaType: 'text/csv; charset=utf-8',
  extension: 'csv',
  write: ({ mapping }) => {
    const { head, cells } = mappingCells(mapping);
    return csvFile([head, ...cells], { escapeFormulae: true });
  },
});
