import { fromBcd, fromMod10, toBcd, toMod10 } from './digits.js';
import type { ValueType } from './types.js';
import { good, type Outcome } from '../outcome/index.js';

/** Numbers in registers, most significant register first. Whole types state their limits; 64-bit ones work in bigint. */
export type NumericType = Exclude<ValueType, 'string' | 'bits'>;

export type Numeric =
  | { kind: 'whole'; low: number; high: number; read(words: readonly number[]): Outcome<number>; write(raw: number): number[] }
  | { kind: 'wide'; low: bigint; high: bigint; read(words: readonly number[]): bigint; write(raw: bigint): number[] }
  | { kind: 'float'; limit: number; read(words: readonly number[]): number; write(raw: number): number[] };

export const numerics: Record<NumericType, Numeric> = {
  int16: whole(
    -0x8000,
    0x7fff,
    1,
    (view) => view.getInt16(0),
    (view, raw) => view.setInt16(0, raw),
  ),
  uint16: whole(
    0,
    0xffff,
    1,
    (view) => view.getUint16(0),
    (view, raw) => view.setUint16(0, raw),
  ),
  int32: whole(
    -0x8000_0000,
    0x7fff_ffff,
    2,
    (view) => view.getInt32(0),
    (view, raw) => view.setInt32(0, raw),
  ),
  uint32: whole(
    0,
    0xffff_ffff,
    2,
    (view) => view.getUint32(0),
    (view, raw) => view.setUint32(0, raw),
  ),
  int64: wide(
    -(2n ** 63n),
    2n ** 63n - 1n,
    (view) => view.getBigInt64(0),
    (view, raw) => view.setBigInt64(0, raw),
  ),
  uint64: wide(
    0n,
    2n ** 64n - 1n,
    (view) => view.getBigUint64(0),
    (view, raw) => view.setBigUint64(0, raw),
  ),
  float32: float(
    2,
    3.4028234663852886e38,
    (view) => view.getFloat32(0),
    (view, raw) => view.setFloat32(0, raw),
  ),
  float64: float(
    4,
    Number.MAX_VALUE,
    (view) => view.getFloat64(0),
    (view, raw) => view.setFloat64(0, raw),
  ),
  bcd16: { kind: 'whole', low: 0, high: 9999, read: fromBcd, write: (raw) => toBcd(raw, 1) },
  bcd32: { kind: 'whole', low: 0, high: 99_999_999, read: fromBcd, write: (raw) => toBcd(raw, 2) },
  'mod10-32': { kind: 'whole', low: 0, high: 99_999_999, read: fromMod10, write: toMod10 },
};

export const numericTypes = Object.keys(numerics) as NumericType[];

/** The raw values that a type holds, both ends included. */
export function rangeOf(type: NumericType): { low: number; high: number } {
  const numeric = numerics[type];
  return numeric.kind === 'float' ? { low: -numeric.limit, high: numeric.limit } : { low: Number(numeric.low), high: Number(numeric.high) };
}

function whole(
  low: number,
  high: number,
  words: number,
  get: (view: DataView) => number,
  set: (view: DataView, raw: number) => void,
): Numeric {
  return {
    kind: 'whole',
    low,
    high,
    read: (from) => good(get(viewOf(from))),
    write: (raw) => wordsOf(words, (view) => set(view, raw)),
  };
}

function wide(low: bigint, high: bigint, get: (view: DataView) => bigint, set: (view: DataView, raw: bigint) => void): Numeric {
  return { kind: 'wide', low, high, read: (from) => get(viewOf(from)), write: (raw) => wordsOf(4, (view) => set(view, raw)) };
}

function float(words: number, limit: number, get: (view: DataView) => number, set: (view: DataView, raw: number) => void): Numeric {
  return { kind: 'float', limit, read: (from) => get(viewOf(from)), write: (raw) => wordsOf(words, (view) => set(view, raw)) };
}

function viewOf(words: readonly number[]): DataView {
  const view = new DataView(new ArrayBuffer(words.length * 2));
  words.forEach((word, index) => view.setUint16(index * 2, word));
  return view;
}

function wordsOf(words: number, fill: (view: DataView) => void): number[] {
  const view = new DataView(new ArrayBuffer(words * 2));
  fill(view);
  return Array.from({ length: words }, (_, index) => view.getUint16(index * 2));
}
