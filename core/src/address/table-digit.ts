import type { Table } from './table.js';

/** The leading digit by which reference numbers tell the tables apart: 0xxxx coil, 1xxxx discrete input, 3xxxx input, 4xxxx holding. */
export const tableDigit: Record<Table, number> = { coil: 0, discrete: 1, input: 3, holding: 4 };

export function tableOfDigit(digit: string): Table | null {
  return (Object.keys(tableDigit) as Table[]).find((table) => String(tableDigit[table]) === digit) ?? null;
}
