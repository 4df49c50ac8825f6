import { csvHeader, csvRow } from '@plain-envoy/core/format';
import { defineFormat } from './definition.js';
import { csvFile } from './spreadsheet.js';

export const mapCsv = defineFormat({
  of: 'map',
  id: 'csv',
  title: 'CSV',
  mediaType: 'text/csv; charset=utf-8',
  extension: 'csv',
  write: ({ points }) => csvFile([csvHeader, ...points.map(csvRow)]),
});
