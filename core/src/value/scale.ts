import * as z from 'zod';

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

/** A scale as factor and offset: value = raw × factor + offset. */
export function lineOf(scale: Scale): { factor: number; offset: number } {
  if ('factor' in scale) return { factor: scale.factor, offset: scale.offset };
  const factor = tidy((scale.units[1] - scale.units[0]) / (scale.raw[1] - scale.raw[0]));
  return { factor, offset: tidy(scale.units[0] - scale.raw[0] * factor) };
}

/** The scale of an encoder: counts a turn (four edges each where they are counted in quadrature) and units a turn. */
export function encoderScale(countsPerTurn: number, unitsPerTurn: number, quadrature: boolean): Scale {
  return { factor: tidy(unitsPerTurn / (countsPerTurn * (quadrature ? 4 : 1))), offset: 0 };
}

/** `value = raw × 0.1 − 40`. */
export function formulaOf(scale: Scale): string {
  const { factor, offset } = lineOf(scale);
  const times = factor === 1 ? 'raw' : `raw × ${factor}`;
  return `value = ${times}${offset === 0 ? '' : offset < 0 ? ` − ${-offset}` : ` + ${offset}`}`;
}

/** From raw to units. The last digit that binary arithmetic spoils is rounded away: 3 × 0.1 gives 0.3. */
export function toUnits(raw: number, scale: Scale): number {
  if (!Number.isFinite(raw)) return raw;
  if ('factor' in scale) return tidy(raw * scale.factor + scale.offset);
  const [rawLow, rawHigh] = scale.raw;
  const [unitLow, unitHigh] = scale.units;
  return limit(tidy(unitLow + ((raw - rawLow) * (unitHigh - unitLow)) / (rawHigh - rawLow)), scale);
}

/** From units to raw, not yet rounded to what a register can hold. */
export function toRaw(value: number, scale: Scale): number {
  if (!Number.isFinite(value)) return value;
  if ('factor' in scale) return tidy((value - scale.offset) / scale.factor);
  const [rawLow, rawHigh] = scale.raw;
  const [unitLow, unitHigh] = scale.units;
  return tidy(rawLow + ((limit(value, scale) - unitLow) * (rawHigh - rawLow)) / (unitHigh - unitLow));
}

function limit(value: number, scale: Extract<Scale, { raw: unknown }>): number {
  if (!scale.clamp) return value;
  const low = Math.min(...scale.units);
  const high = Math.max(...scale.units);
  return Math.min(high, Math.max(low, value));
}

function tidy(value: number): number {
  return Number(value.toPrecision(15));
}
