import Papa from 'papaparse';

/** What a spreadsheet takes for a formula, which no number is, with what it may begin with. */
export const FORMULA = /^[=@\t\r]|^[+-](?![\d.])/;

/** Rows as CSV (RFC 4180). The byte-order mark lets spreadsheets know the encoding. */
export function csvFile(rows: readonly (readonly (string | number | null)[])[], config: Papa.UnparseConfig = {}): string {
  return `\uFEFF${Papa.unparse(
    rows.map((row) => [...row]),
    config,
  )}\r\n`;
}
