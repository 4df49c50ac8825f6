import { isBitTable, isWritable, type Table } from '../address/index.js';
import type { Point } from '../model/index.js';

/** What a single bit has none of. */
export const asBit = { type: 'bit', scale: null, length: null, encoding: null } as const;

/** What changes of a point that is moved to another table, with what that table forces on it. */
export function inTable(point: Point, table: Table): Partial<Point> {
  const access = isWritable(table) ? (isWritable(point.table) ? point.access : 'readWrite') : 'read';
  if (isBitTable(table)) return { ...asBit, table, bit: null, access };
  return { table, type: isBitTable(point.table) ? 'uint16' : point.type, access };
}
