import { splitLoose, type TextTable } from '@plain-envoy/core/format';
import Papa from 'papaparse';

const separators = { '\t': 'tabs', ';': 'semicolons', ',': 'commas', '|': 'vertical bars' } as const;
const SAMPLE = 200;

export interface Columns extends TextTable {
  /** How the columns were told apart, to go on after “in”. */
  how: string;
}

/**
 * Text to rows and cells (RFC 4180 and its relatives): the separator under which most rows have the same number of cells,
 * quoted cells and line breaks in them included. Text with no separator is taken for a printed table.
 */
export function columnsOf(text: string): Columns {
  const sample = text.slice(0, 200_000);
  const best = (Object.keys(separators) as (keyof typeof separators)[])
    .map((delimiter) => ({ delimiter, fit: fitOf(Papa.parse<string[]>(sample, { delimiter, preview: SAMPLE }).data) }))
    .sort((a, b) => b.fit - a.fit)[0]!;
  if (best.fit === 0) return { rows: splitLoose(text), how: 'columns kept apart by blanks' };
  const rows = Papa.parse<string[]>(text, { delimiter: best.delimiter }).data;
  return { rows, lines: linesOf(rows), how: `columns kept apart by ${separators[best.delimiter]}` };
}

/** How well a separator fits: the share of rows that agree on more than one column, and a little for having many. */
function fitOf(rows: readonly (readonly string[])[]): number {
  const filled = rows.filter((row) => row.some((cell) => cell.trim()));
  const counts = new Map<number, number>();
  for (const { length } of filled) counts.set(length, (counts.get(length) ?? 0) + 1);
  const [columns, agreeing] = [...counts].filter(([length]) => length > 1).sort((a, b) => b[1] - a[1])[0] ?? [1, 0];
  const share = agreeing / Math.max(1, filled.length);
  return columns < 2 || share < 0.4 ? 0 : share + Math.min(columns, 20) / 100;
}

/** The line of the file at which each row starts; a quoted cell may hold several lines. */
function linesOf(rows: readonly (readonly string[])[]): number[] {
  let line = 1;
  return rows.map((row) => {
    const at = line;
    line += 1 + row.reduce((sum, cell) => sum + (cell.includes('\n') ? cell.split('\n').length - 1 : 0), 0);
    return at;
  });
}
