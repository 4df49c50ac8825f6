import * as z from 'zod';

/** A decoded value: a number; text; the decimal digits of a 64-bit integer; `NaN` and infinities by name; or the set bits. */
export const Value = z.union([z.number(), z.string(), z.array(z.number().int().min(0).max(63))]);
export type Value = z.infer<typeof Value>;
