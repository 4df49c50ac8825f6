import * as z from 'zod';

/** The ways in which registers hold a value, each with its width. */
export const valueTypes = [
  'int16',
  'uint16',
  'int32',
  'uint32',
  'int64',
  'uint64',
  'float32',
  'float64',
  'bcd16',
  'bcd32',
  'mod10-32',
  'string',
  'bits',
] as const;
export const ValueType = z.enum(valueTypes);
export type ValueType = z.infer<typeof ValueType>;

export const byteOrders = ['ABCD', 'CDAB', 'BADC', 'DCBA', 'ABCDEFGH', 'GHEFCDAB', 'BADCFEHG', 'HGFEDCBA'] as const;
export const ByteOrder = z.enum(byteOrders).describe('Byte order on the wire; A is the most significant byte');
export type ByteOrder = z.infer<typeof ByteOrder>;

export const Encoding = z.enum(['ascii', 'latin1', 'utf-8']);
export type Encoding = z.infer<typeof Encoding>;

export const Scale = z.union([
  z.strictObject({
    factor: z.number().refine((factor) => factor !== 0, 'A factor of 0 would make every value 0.'),
    offset: z.number().default(0),
  }),
  z.strictObject({
    raw: z.tuple([z.number(), z.number()]).refine(([lo, hi]) => lo !== hi, 'The raw range has no width.'),
    units: z.tuple([z.number(), z.number()]).refine(([lo, hi]) => lo !== hi, 'The unit range has no width.'),
    clamp: z.boolean().optional(),
  }),
]);
export type Scale = z.infer<typeof Scale>;

/** A decoded value: a number; text; the decimal digits of a 64-bit integer; `NaN` and infinities by name; or the set bits. */
export const Value = z.union([z.number(), z.string(), z.array(z.number().int().min(0).max(63))]);
export type Value = z.infer<typeof Value>;

const widths: Record<ValueType, number | null> = {
  int16: 1,
  uint16: 1,
  int32: 2,
  uint32: 2,
  int64: 4,
  uint64: 4,
  float32: 2,
  float64: 4,
  bcd16: 1,
  bcd32: 2,
  'mod10-32': 2,
  string: null,
  bits: null,
};

/** Registers that a value of this type takes; `length` counts for text and bits only (default 1). */
export function widthOf(type: ValueType, length?: number): number {
  return widths[type] ?? length ?? 1;
}

export function hasFreeLength(type: ValueType): boolean {
  return widths[type] === null;
}
