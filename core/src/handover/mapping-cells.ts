import type { MappingRow, MappingSheet } from '../mapping/index.js';

const columns: readonly { head: string; of(row: MappingRow): string | number }[] = [
  { head: 'Line', of: ({ line }) => line },
  { head: 'Device', of: ({ device }) => device },
  { head: 'There it is', of: ({ far }) => far },
  { head: 'Direction', of: ({ direction }) => direction },
  { head: 'Value', of: ({ name }) => name },
  { head: 'Bytes of the image', of: ({ bytes }) => bytes },
  { head: 'Bytes as its line counts', of: ({ farBytes }) => farBytes },
  { head: 'Registers are', of: ({ table }) => table },
  { head: 'First register', of: ({ register }) => register },
  { head: 'Registers', of: ({ registers }) => registers },
  { head: 'Type', of: ({ type }) => type },
  { head: 'Order', of: ({ order }) => order },
];

/** The heads of a mapping sheet's columns, its rows, and below them what else its set-up asks for, a sentence a row. */
export function mappingCells({ rows, settings }: MappingSheet): { head: string[]; cells: (string | number | null)[][] } {
  return {
    head: columns.map(({ head }) => head),
    cells: [...rows.map((row) => columns.map(({ of }) => of(row))), ...settings.map((text) => [text])],
  };
}
