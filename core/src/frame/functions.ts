import type { Table } from '../address/index.js';

/** One Modbus function that reaches registers or coils (Modbus application protocol V1.1b3, section 6). */
export interface ModbusFunction {
  code: number;
  name: string;
  table: Table;
  kind: 'read' | 'write-one' | 'write-many' | 'mask' | 'exchange';
  /** Registers or bits that one request carries at most; for an exchange, those that it reads. */
  most: number;
  bits: boolean;
}

/** Sets and clears some bits of one register by two masks and leaves its others alone (section 6.16). */
export const MASK_WRITE = 22;

/** Writes registers and then reads others, in one transaction (section 6.17). */
export const READ_WRITE = 23;

/** So many registers an exchange writes at most. */
export const MAX_EXCHANGED = 121;

export const functions: readonly ModbusFunction[] = [
  { code: 1, name: 'read coils', table: 'coil', kind: 'read', most: 2000, bits: true },
  { code: 2, name: 'read discrete inputs', table: 'discrete', kind: 'read', most: 2000, bits: true },
  { code: 3, name: 'read holding registers', table: 'holding', kind: 'read', most: 125, bits: false },
  { code: 4, name: 'read input registers', table: 'input', kind: 'read', most: 125, bits: false },
  { code: 5, name: 'write one coil', table: 'coil', kind: 'write-one', most: 1, bits: true },
  { code: 6, name: 'write one register', table: 'holding', kind: 'write-one', most: 1, bits: false },
  { code: 15, name: 'write coils', table: 'coil', kind: 'write-many', most: 1968, bits: true },
  { code: 16, name: 'write registers', table: 'holding', kind: 'write-many', most: 123, bits: false },
  { code: MASK_WRITE, name: 'write bits of one register', table: 'holding', kind: 'mask', most: 1, bits: false },
  { code: READ_WRITE, name: 'write and read registers', table: 'holding', kind: 'exchange', most: 125, bits: false },
];

const byCode = new Map(functions.map((entry) => [entry.code, entry]));

export function functionOf(code: number): ModbusFunction | undefined {
  return byCode.get(code);
}

/** The function that reads this table: 1, 2, 3 or 4. */
export function readFunction(table: Table): ModbusFunction {
  return functions.find((entry) => entry.table === table && entry.kind === 'read')!;
}

/** The function that writes `count` registers or coils: the single one (5, 6) where one is enough; none for read-only tables. */
export function writeFunction(table: Table, count: number): ModbusFunction | undefined {
  const kind = count === 1 ? 'write-one' : 'write-many';
  return functions.find((entry) => entry.table === table && entry.kind === kind);
}
