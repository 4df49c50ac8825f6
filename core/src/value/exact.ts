import type { Scale } from './scale.js';

/** A number as a fraction of whole ones, so that nothing of it is lost; `under` is above 0. */
export interface Ratio {
  over: bigint;
  under: bigint;
}

const DECIMAL = /^([-+]?)(\d*)(?:\.(\d*))?(?:e([-+]?\d{1,4}))?$/i;

/** A decimal number as it is written; null where the text is none. A number counts as its shortest decimal form: 0.1 is a tenth. */
export function ratioOf(written: string | number): Ratio | null {
  const [, sign, whole = '', part = '', power = '0'] = DECIMAL.exec(String(written).trim()) ?? [];
  if (sign === undefined || whole + part === '') return null;
  const digits = BigInt(whole + part) * (sign === '-' ? -1n : 1n);
  const tens = Number(power) - part.length;
  return tens >= 0 ? { over: digits * 10n ** BigInt(tens), under: 1n } : { over: digits, under: 10n ** BigInt(-tens) };
}

/** From units to raw, nothing rounded; a value past a clamped range counts as the end of it. */
export function exactRaw(value: Ratio, scale: Scale): Ratio {
  if ('factor' in scale) return divide(minus(value, sure(scale.offset)), sure(scale.factor));
  const [rawLow, rawHigh] = [sure(scale.raw[0]), sure(scale.raw[1])];
  const [unitLow, unitHigh] = [sure(scale.units[0]), sure(scale.units[1])];
  const slope = divide(minus(rawHigh, rawLow), minus(unitHigh, unitLow));
  const [least, most] = isLess(unitLow, unitHigh) ? [unitLow, unitHigh] : [unitHigh, unitLow];
  const inside = !scale.clamp ? value : isLess(value, least) ? least : isLess(most, value) ? most : value;
  return plus(rawLow, times(minus(inside, unitLow), slope));
}

/** The nearest whole number; a half goes away from 0, as on paper, so that −2.5 and 2.5 round alike. */
export function nearestWhole({ over, under }: Ratio): bigint {
  const size = over < 0n ? -over : over;
  const rounded = (2n * size + under) / (2n * under);
  return over < 0n ? -rounded : rounded;
}

export function isWhole({ over, under }: Ratio): boolean {
  return over % under === 0n;
}

/** The same for an ordinary number. */
export function roundHalfAway(value: number): number {
  return Math.sign(value) * Math.round(Math.abs(value)) + 0;
}

function sure(value: number): Ratio {
  return ratioOf(value)!;
}

function isLess(a: Ratio, b: Ratio): boolean {
  return a.over * b.under < b.over * a.under;
}

function plus(a: Ratio, b: Ratio): Ratio {
  return { over: a.over * b.under + b.over * a.under, under: a.under * b.under };
}

function minus(a: Ratio, b: Ratio): Ratio {
  return plus(a, { over: -b.over, under: b.under });
}

function times(a: Ratio, b: Ratio): Ratio {
  return { over: a.over * b.over, under: a.under * b.under };
}

function divide(a: Ratio, b: Ratio): Ratio {
  return b.over < 0n ? times(a, { over: -b.under, under: -b.over }) : times(a, { over: b.under, under: b.over });
}
