import { type Point, pointLayout, pointWidth } from '../model/index.js';
import { typeOf } from '../types/index.js';
import { decode, encode, toUnits, type Value } from '../value/index.js';

/** A value that shows a mistake by what becomes of it, and why it was chosen. */
export interface TellTale {
  value: Value;
  shows: string;
}

/**
 * Values for a point in its own units, chosen so that swapped bytes or words, a wrong sign, scale or neighbour shows. The first
 * and the last are the point's own: `own` counts the points that are tried together, so that no two of them have the same.
 */
export function tellTales(point: Point, own: number): TellTale[] {
  const width = pointWidth(point);
  const rows = typeOf(point.type).tellTales({ own, width, namedBits: point.bits.map(({ bit }) => bit) });
  return rows.map(({ raw, shows }) => ({
    value: typeof raw === 'number' ? held(raw, point) : typeof raw === 'string' ? raw : [...raw],
    shows,
  }));
}

/** A raw number in the point's units, as its registers hold it. */
function held(raw: number, point: Point): Value {
  const layout = pointLayout(point);
  if (!layout) return raw;
  const value = point.scale ? toUnits(raw, point.scale) : raw;
  const words = encode(value, layout);
  const back = words.ok ? decode(words.value.words, layout) : words;
  return back.ok ? back.value.value : value;
}
