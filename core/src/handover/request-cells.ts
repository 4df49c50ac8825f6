import type { RequestSheet, SheetRow } from '../plan/index.js';

const columns: readonly { head: string; of(row: SheetRow): string | number | null }[] = [
  { head: 'No.', of: ({ number }) => number },
  { head: 'Connection', of: ({ connection }) => connection },
  { head: 'Unit', of: ({ unitId }) => unitId },
  { head: 'Device', of: ({ device }) => device },
  { head: 'Function', of: ({ functionCode }) => functionCode },
  { head: 'Function name', of: ({ functionName }) => functionName },
  { head: 'Start as typed', of: ({ start }) => start },
  { head: 'Start on the wire', of: ({ offset }) => offset },
  { head: 'Count', of: ({ count }) => count },
  { head: 'Local first', of: ({ local }) => local?.first ?? null },
  { head: 'Local last', of: ({ local }) => local?.last ?? null },
  { head: 'Trigger', of: ({ trigger }) => trigger },
  { head: 'Timeout, ms', of: ({ timeoutMs }) => timeoutMs },
  { head: 'Tries', of: ({ tries }) => tries },
  { head: 'On the line, ms', of: ({ expectedMs }) => expectedMs },
  { head: 'How it came about', of: ({ why }) => why.join(' ') },
  { head: 'Work of its program', of: ({ local }) => local?.work.join('; ') ?? null },
];

/** The heads of a request sheet's columns, and its rows. */
export function requestCells({ rows }: RequestSheet): { head: string[]; cells: (string | number | null)[][] } {
  return { head: columns.map(({ head }) => head), cells: rows.map((row) => columns.map(({ of }) => of(row))) };
}
