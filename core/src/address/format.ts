import { z } from 'zod';
import { Offset, Table } from './table.js';

/** How a device's papers write addresses. */
export const Notation = z.enum(['pdu', 'number', 'reference5', 'reference6', 'hex', 'area']);
export type Notation = z.infer<typeof Notation>;

/** A controller's own name for a stretch of registers: `W40` is offset 40 where `W` starts at offset 0 with index 0. */
export const Area = z.strictObject({
  name: z.string().regex(/^[A-Za-z_%]{1,8}$/, 'One to eight letters.'),
  table: Table,
  firstIndex: z.int().min(0),
  offset: Offset,
  stride: z.int().min(1).max(16),
  count: z.int().min(1).max(65_536),
});
export type Area = z.infer<typeof Area>;

export interface Place {
  table: Table;
  offset: number;
}

const digit: Record<Table, number> = { coil: 0, discrete: 1, input: 3, holding: 4 };

/**
 * Writes a place as a device's papers do. Where the notation cannot reach it (five digits end at offset 9998, an area has
 * an end) the six-digit reference is used, which can always.
 * Example: `formatAddress({ table: 'input', offset: 10 }, 'reference5')` gives `30011`.
 */
export function formatAddress({ table, offset }: Place, notation: Notation, areas: readonly Area[] = []): string {
  switch (notation) {
    case 'pdu':
      return String(offset);
    case 'number':
      return String(offset + 1);
    case 'hex':
      return `0x${offset.toString(16).toUpperCase().padStart(4, '0')}`;
    case 'reference5':
      return offset > 9998 ? formatAddress({ table, offset }, 'reference6') : reference(table, offset, 4);
    case 'reference6':
      return reference(table, offset, 5);
    case 'area':
      return inArea({ table, offset }, areas) ?? formatAddress({ table, offset }, 'reference6');
  }
}

function reference(table: Table, offset: number, digits: number): string {
  return `${digit[table]}${String(offset + 1).padStart(digits, '0')}`;
}

function inArea({ table, offset }: Place, areas: readonly Area[]): string | null {
  for (const area of areas) {
    const steps = (offset - area.offset) / area.stride;
    if (area.table === table && Number.isInteger(steps) && steps >= 0 && steps < area.count) {
      return `${area.name}${area.firstIndex + steps}`;
    }
  }
  return null;
}
