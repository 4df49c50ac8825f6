import * as z from 'zod';

/** The four tables of the Modbus data model (application protocol V1.1b3, 4.3). */
export const tables = ['coil', 'discrete', 'input', 'holding'] as const;
export const Table = z.enum(tables);
export type Table = z.infer<typeof Table>;

export const LAST_OFFSET = 65_535;
export const Offset = z
  .int('An offset is a whole number.')
  .min(0, 'An offset starts at 0.')
  .max(LAST_OFFSET, `A table ends at offset ${LAST_OFFSET}.`)
  .describe('Zero-based, as on the wire');

export const tableNames: Record<Table, { one: string; many: string }> = {
  coil: { one: 'coil', many: 'coils' },
  discrete: { one: 'discrete input', many: 'discrete inputs' },
  input: { one: 'input register', many: 'input registers' },
  holding: { one: 'holding register', many: 'holding registers' },
};

export function isBitTable(table: Table): boolean {
  return table === 'coil' || table === 'discrete';
}

export function isWritable(table: Table): boolean {
  return table === 'coil' || table === 'holding';
}
