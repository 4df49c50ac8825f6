import { bad, good, type Outcome } from '../outcome/index.js';
import { type NumberType, typeOf, widthOf } from '../types/index.js';
import type { Layout } from './layout.js';
import { reorder, reorderText } from './order.js';
import { exactRaw, isWhole, nearestWhole, type Ratio, ratioOf, roundHalfAway } from './exact.js';
import { toRaw, toUnits } from './scale.js';
import type { Value } from './value.js';

export interface Encoded {
  words: number[];
  /** False where the registers cannot hold the value given and a near one was taken; `note` says which. */
  exact: boolean;
  note?: string;
}

/**
 * A value to the registers that hold it; the inverse of `decode`.
 * A value that does not fit is a problem that says the range; one that must be rounded is written rounded, a half away from 0, and
 * said so.
 * Example: `encode(61.5, { type: 'int16', scale: { factor: 0.1, offset: 0 } })` gives `[615]`.
 */
export function encode(value: Value, layout: Layout): Outcome<Encoded> {
  const { type, order = 'ABCD' } = layout;
  const definition = typeOf(type);
  if (definition.kind === 'text') {
    if (typeof value !== 'string') return bad('Text was expected.', 'value');
    const words = definition.writeText(value, layout.encoding ?? 'ascii', layout.length);
    return words.ok ? good({ words: reorderText(words.value, order), exact: true }) : words;
  }
  const isBits = definition.kind === 'bits' || definition.kind === 'bit';
  const plain = isBits ? bitsToWords(value, widthOf(type, layout.length)) : encodeNumber(value, layout, definition);
  if (!plain.ok) return plain;
  const words = reorder(plain.value.words, order);
  return words.ok ? good({ ...plain.value, words: words.value }) : words;
}

function encodeNumber(value: Value, layout: Layout, numeric: NumberType): Outcome<Encoded> {
  const { name: type } = numeric;
  if (Array.isArray(value)) return bad('A number was expected, not a list of bits.', 'value');
  if (numeric.kind === 'wide' && !layout.scale) {
    const whole = wholeFromText(value);
    if (!whole.ok) return whole;
    if (whole.value < numeric.low || whole.value > numeric.high) return outside(String(value), type, numeric.low, numeric.high);
    return good({ words: numeric.write(whole.value), exact: true });
  }
  const wanted = numberFrom(value);
  if (!wanted.ok) return wanted;
  const ratio = ratioOf(value);
  if (numeric.kind === 'wide' && layout.scale && ratio) return encodeWide(value, ratio, layout.scale, numeric);
  const raw = layout.scale ? toRaw(wanted.value, layout.scale) : wanted.value;

  if (numeric.kind === 'float') {
    if (Number.isFinite(raw) && Math.abs(raw) > numeric.limit) return outside(String(value), type, -numeric.limit, numeric.limit);
    const words = numeric.write(raw);
    const held = numeric.read(words);
    const exact = Object.is(held, raw);
    return good({ words, exact, ...(exact ? {} : { note: `The nearest that ${type} holds is ${held}.` }) });
  }
  if (!Number.isFinite(raw)) return bad(`${value} cannot be held as ${type}.`, 'value');
  const rounded = roundHalfAway(raw);
  const low = Number(numeric.low);
  const high = Number(numeric.high);
  if (rounded < low || rounded > high) {
    const scale = layout.scale;
    const units = scale ? [toUnits(low, scale), toUnits(high, scale)].sort((a, b) => a - b) : [low, high];
    return outside(String(value), type, units[0], units[1]);
  }
  const exact = rounded === raw && isInside(wanted.value, layout.scale);
  const held = layout.scale ? toUnits(rounded, layout.scale) : rounded;
  const words = numeric.kind === 'wide' ? numeric.write(BigInt(rounded)) : numeric.write(rounded);
  return good({ words, exact, ...(exact ? {} : { note: `${value} is written as ${held} (raw ${rounded}).` }) });
}

/** All 64 bits count, which a floating-point number does not hold. */
function encodeWide(
  value: number | string,
  ratio: Ratio,
  scale: NonNullable<Layout['scale']>,
  numeric: Extract<NumberType, { kind: 'wide' }>,
): Outcome<Encoded> {
  const raw = exactRaw(ratio, scale);
  const rounded = nearestWhole(raw);
  const { low, high } = numeric;
  if (rounded < low || rounded > high) {
    const units = [toUnits(Number(low), scale), toUnits(Number(high), scale)].sort((a, b) => a - b);
    return outside(String(value), numeric.name, units[0], units[1]);
  }
  const exact = isWhole(raw) && isInside(Number(value), scale);
  const words = numeric.write(rounded);
  return good({ words, exact, ...(exact ? {} : { note: `${value} is written as ${toUnits(Number(rounded), scale)} (raw ${rounded}).` }) });
}

/** A clamped scale takes a value past its range for the end of the range, which is not what was asked for. */
function isInside(value: number, scale: Layout['scale']): boolean {
  if (!scale || !('raw' in scale) || !scale.clamp) return true;
  return value >= Math.min(...scale.units) && value <= Math.max(...scale.units);
}

function outside(value: string, type: string, low: unknown, high: unknown): ReturnType<typeof bad> {
  return bad(`${value} does not fit: ${type} holds ${low} to ${high} here.`, 'value');
}

function numberFrom(value: number | string): Outcome<number> {
  if (typeof value === 'number') return good(value);
  const text = value.trim();
  if (text === 'NaN') return good(NaN);
  const number = Number(text);
  return text === '' || Number.isNaN(number) ? bad(`“${value}” is no number.`, 'value') : good(number);
}

function wholeFromText(value: number | string): Outcome<bigint> {
  if (typeof value === 'number' && !Number.isSafeInteger(value)) {
    return bad(`${value} is no whole number that can be taken exactly; give it as text.`, 'value');
  }
  if (!/^\s*[-+]?\d+\s*$/.test(String(value))) return bad(`“${value}” is no whole number.`, 'value');
  return good(BigInt(String(value).trim().replace(/^\+/, '')));
}

function bitsToWords(value: Value, length: number): Outcome<Encoded> {
  const count = length * 16;
  let whole: bigint;
  if (Array.isArray(value)) {
    const above = value.find((bit) => bit >= count);
    if (above !== undefined) return bad(`Bit ${above} does not fit: bits 0 to ${count - 1} are there.`, 'value');
    whole = value.reduce((sum, bit) => sum | (1n << BigInt(bit)), 0n);
  } else {
    const given = wholeFromText(value);
    if (!given.ok) return given;
    whole = given.value;
    if (whole < 0n || whole >= 1n << BigInt(count)) return outside(String(value), 'bits', 0, (1n << BigInt(count)) - 1n);
  }
  const words = Array.from({ length }, (_, index) => Number((whole >> BigInt(16 * (length - 1 - index))) & 0xffffn));
  return good({ words, exact: true });
}
