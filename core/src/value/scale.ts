import type { Scale } from './types.js';

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
