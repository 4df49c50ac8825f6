import { z } from 'zod';
import { isBitTable, isWritable, LAST_OFFSET, Offset, Table, tableNames } from '../address/index.js';
import { ByteOrder, Encoding, type Layout, Scale, valueTypes, widthOf } from '../value/index.js';
import { Id, Name, Note } from './common.js';

export const PointType = z.enum(['bit', ...valueTypes]);
export type PointType = z.infer<typeof PointType>;

/** A named value of a device at a table and a zero-based offset. */
export const Point = z
  .strictObject({
    id: Id,
    projectId: Id,
    deviceId: Id,
    name: Name,
    note: Note,
    table: Table,
    offset: Offset,
    type: PointType,
    order: ByteOrder,
    length: z.int().min(1).max(125).nullable().describe('Registers, for text and bits only'),
    encoding: Encoding.nullable(),
    scale: Scale.nullable(),
    unit: z.string().max(20, 'A unit has at most 20 characters.'),
    access: z.enum(['read', 'write', 'readWrite']),
  })
  .superRefine((point, context) => {
    const problem = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
    const names = tableNames[point.table];
    if (isBitTable(point.table) !== (point.type === 'bit')) {
      problem(
        'type',
        isBitTable(point.table)
          ? `A ${names.one} is one bit; choose the type bit.`
          : `A ${names.one} has 16 bits; the type bit is for coils and discrete inputs.`,
      );
    }
    if (!isWritable(point.table) && point.access !== 'read') {
      problem('access', `The standard has no function that writes ${names.many}; they can only be read.`);
    }
    const last = point.offset + pointWidth(point) - 1;
    if (last > LAST_OFFSET) problem('offset', `It would end at offset ${last}; a table ends at ${LAST_OFFSET}.`);
    if (point.order.length === 8 && pointWidth(point) !== 4) problem('order', `Order ${point.order} is for values of four registers.`);
  });
export type Point = z.infer<typeof Point>;

/** Registers, or bits, that the point takes in its table. */
export function pointWidth(point: Pick<Point, 'type' | 'length'>): number {
  return point.type === 'bit' ? 1 : widthOf(point.type, point.length ?? undefined);
}

/** How to decode the point's registers; null for a single bit, which needs no decoding. */
export function pointLayout({ type, order, scale, encoding, length }: Point): Layout | null {
  if (type === 'bit') return null;
  return {
    type,
    order,
    ...(scale ? { scale } : {}),
    ...(encoding ? { encoding } : {}),
    ...(length ? { length } : {}),
  };
}
