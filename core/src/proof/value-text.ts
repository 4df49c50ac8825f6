import { type Point, readPoint } from '../model/index.js';
import type { Value } from '../value/index.js';

/** What these words mean by a device's papers; null where they mean nothing. */
export function asNumber(words: readonly number[], point: Point): Value | null {
  const read = readPoint(words, point);
  return read.ok ? read.value.value : null;
}

/** The same as text; `nothing` where there is none. */
export function textAt(words: readonly number[], point: Point): string {
  const value = words.length ? asNumber(words, point) : null;
  return value === null ? 'nothing' : textOf(value, point);
}

/** `61.5 °C`, or `bits 0 3`. */
export function textOf(value: Value, { unit }: Point): string {
  if (Array.isArray(value)) return value.length ? `bits ${value.join(' ')}` : 'no bit';
  const text = typeof value === 'number' ? String(Number(value.toPrecision(9))) : value;
  return unit ? `${text} ${unit}` : text;
}
