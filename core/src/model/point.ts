import * as z from 'zod';
import { isBitTable, isWritable, LAST_OFFSET, Offset, Table, tableNames, tables } from '../address/index.js';
import { ByteOrder, decode, type Decoded, type Layout, Scale } from '../value/index.js';
import { Id, Name, Note } from '../common/index.js';
import { atRegister, isRaw, PointPlace } from '../place/index.js';
import { good, type Outcome } from '../outcome/index.js';
import { Encoding, PointType, typeOf, widthOf } from '../types/index.js';

/** A bit of a word by name; 0 is the lowest. */
export const NamedBit = z.strictObject({
  bit: z.int('A bit is a whole number.').min(0, 'Bits start at 0.').max(63, 'Bits end at 63.'),
  name: Name,
});
export type NamedBit = z.infer<typeof NamedBit>;

/** What a raw value means. */
export const NamedCode = z.strictObject({ value: z.int('A code is a whole number.'), name: Name });
export type NamedCode = z.infer<typeof NamedCode>;

const BitOfWord = z
  .int('A bit is a whole number.')
  .min(0, 'The bits of a register are 0 to 15.')
  .max(15, 'The bits of a register are 0 to 15.');

/** What makes a point a setting of its device: it is set once, and not carried by a route. */
export const PointSetting = z.strictObject({
  wanted: z
    .string()
    .max(1000, 'At most 1000 characters.')
    .nullable()
    .describe('The value that it shall have, as a person types it; null where that is not decided yet'),
});
export type PointSetting = z.infer<typeof PointSetting>;

/** What a manual says of a point. */
export const pointFields = {
  name: Name,
  note: Note,
  table: Table,
  offset: Offset,
  bit: BitOfWord.nullable().default(null).describe('Which bit of the register, from 0, where the point is a single bit of one'),
  type: PointType,
  order: ByteOrder,
  length: z.int().min(1).max(125).nullable().describe('Registers, for text and bits only'),
  encoding: Encoding.nullable(),
  scale: Scale.nullable(),
  unit: z.string().max(20, 'A unit has at most 20 characters.'),
  access: z.enum(['read', 'write', 'readWrite']),
  bits: z.array(NamedBit).max(64).default([]).describe('Bits by name'),
  codes: z.array(NamedCode).max(256, 'At most 256 codes.').default([]).describe('Raw values by name'),
};

export const pointBodyFields = {
  ...pointFields,
  setting: PointSetting.nullable().default(null).describe('For a setting of the device: what it shall be'),
};

/** What a point says of itself, free of any device: a row of a register map. */
export const PointBody = z.strictObject(pointBodyFields).superRefine(checkPoint);
export type PointBody = z.infer<typeof PointBody>;

/** A named value of a device at a table and a zero-based offset. */
export const Point = z
  .strictObject({
    id: Id,
    projectId: Id,
    deviceId: Id,
    ...pointBodyFields,
    place: PointPlace.default(atRegister).describe(
      'Where it lies; what is no register of its device is asked at the table and offset at which a converter has it',
    ),
    releasedBy: Id.nullable().default(null).describe('A point of its device that has to be set, or what is written here is ignored'),
    watchdogMs: z
      .int('A whole number of milliseconds.')
      .min(100, 'At least 100 ms.')
      .max(3_600_000, 'At most an hour.')
      .nullable()
      .default(null)
      .describe('For a heartbeat: its device takes the other side as lost when it stands still for so long'),
  })
  .superRefine(checkPoint);
export type Point = z.infer<typeof Point>;

/** The point without its ids. */
export function bodyOf({ id, projectId, deviceId, place, releasedBy, watchdogMs, ...body }: Point): PointBody {
  return body;
}

export function checkPoint(point: z.infer<z.ZodObject<typeof pointFields>>, context: z.RefinementCtx): void {
  const problem = (path: string, message: string) => context.addIssue({ code: 'custom', path: [path], message });
  const names = tableNames[point.table];
  if (isBitTable(point.table)) {
    if (point.type !== 'bit') problem('type', `A ${names.one} is one bit; choose the type bit.`);
    if (point.bit !== null) problem('bit', `A ${names.one} is a bit already; only a register has bits inside.`);
  } else if (point.type === 'bit' && point.bit === null) {
    problem('bit', `A ${names.one} has 16 bits; say which one, 0 to 15, or choose another type.`);
  } else if (point.type !== 'bit' && point.bit !== null) {
    problem('bit', `A bit of a register has the type bit, not ${point.type}.`);
  }
  const twice = repeated(point.bits.map(({ bit }) => bit));
  if (twice !== undefined) problem('bits', `Bit ${twice} is named twice.`);
  const again = repeated(point.codes.map(({ value }) => value));
  if (again !== undefined) problem('codes', `Code ${again} is named twice.`);
  if (!isWritable(point.table) && point.access !== 'read') {
    problem('access', `The standard has no function that writes ${names.many}; they can only be read.`);
  }
  const last = point.offset + pointWidth(point) - 1;
  if (last > LAST_OFFSET) problem('offset', `It would end at offset ${last}; a table ends at ${LAST_OFFSET}.`);
  if (point.order.length === 8 && pointWidth(point) !== 4) problem('order', `Order ${point.order} is for values of four registers.`);
}

/** Registers, or bits, that the point takes in its table. */
export function pointWidth(point: Pick<Point, 'type' | 'length'>): number {
  return widthOf(point.type, point.length ?? undefined);
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

/** What the words read for a point hold; a bit, also one inside a register, is 0 or 1. */
export function readPoint(words: readonly number[], point: Point): Outcome<Decoded> {
  const layout = pointLayout(point);
  if (layout) return decode(words, layout);
  const word = words[0] ?? 0;
  const bit = point.bit === null ? word & 1 : (word >>> point.bit) & 1;
  return good({ raw: bit, value: bit });
}

function repeated(numbers: readonly number[]): number | undefined {
  return numbers.find((number, index) => numbers.indexOf(number) < index);
}

const tableRank = Object.fromEntries(tables.map((table, rank) => [table, rank])) as Record<Table, number>;

/** Register order: by table, offset and bit, whatever notation is shown. */
export function byPlace(a: Point, b: Point): number {
  return tableRank[a.table] - tableRank[b.table] || a.offset - b.offset || (a.bit ?? -1) - (b.bit ?? -1);
}

/** Whether the bytes of a point run on as they came, whatever side lays them: a text, or data that is passed whole. */
export function runsOn({ type, place }: Pick<Point, 'type' | 'place'>): boolean {
  return isRaw(place) || typeOf(type).kind === 'text';
}
