import Papa from 'papaparse';

/** Rows as CSV (RFC 4180). The byte-order mark lets spreadsheets know the encoding. */
export function csvFile(rows: readonly (readonly (string | number | null)[])[], config: Papa.UnparseConfig = {}): string {
  return `\uFEFF${Papa.unparse(
    rows.map((row) => [...row]),
    config,
  )}\r\n`;
}
