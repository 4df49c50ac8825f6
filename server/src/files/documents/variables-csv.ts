import { variableCells } from '@plain-envoy/core/handover';
import { encode } from 'iconv-lite';
import Papa from 'papaparse';
import { defineFormat } from './definition.js';
import { FORMULA } from './spreadsheet.js';

/** Text that a spreadsheet would take for a formula stays text. */
export const variablesCsv = defineFormat({
  of: 'variables',
  id: 'csv',
  title: 'CSV',
  mediaType: 'text/csv',
  extension: 'csv',
  write: ({ list, profile }) => {
    const { head, cells } = variableCells(list, profile.columns);
    const rows = profile.head ? [head, ...cells] : cells;
    const text = Papa.unparse(rows, { delimiter: profile.separator, escapeFormulae: FORMULA });
    return encode(`${text}\r\n`, profile.encoding, { addBOM: profile.byteOrderMark });
  },
});
