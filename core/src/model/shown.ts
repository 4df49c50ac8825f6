import { typeOf } from '../types/index.js';
import type { Value } from '../value/index.js';
import { type Point, readPoint } from './point.js';
import type { Radix } from './watch-list.js';

/** Registers as hex words, or as a radix says; a coil as 0 or 1. Decimal is unsigned. */
export function rawText(words: readonly number[] | null | undefined, point: Point, radix: Radix = 'hex'): string {
  if (!words) return '';
  if (point.type === 'bit' && point.bit === null) return String(words[0] ?? '');
  return words.map(wordIn[radix]).join(radix === 'text' ? '' : ' ');
}

const wordIn: Readonly<Record<Radix, (word: number) => string>> = {
  decimal: String,
  signed: (word) => String(word > 0x7fff ? word - 0x1_0000 : word),
  hex: (word) => word.toString(16).toUpperCase().padStart(4, '0'),
  binary: (word) =>
    word
      .toString(2)
      .padStart(16, '0')
      .replace(/.{4}(?!$)/g, '$& '),
  text: (word) => [word >>> 8, word & 0xff].map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·')).join(''),
};

/** The value in its unit, codes and bits by name; registers that make no sense as this type are said so. */
export function valueText(words: readonly number[] | null | undefined, point: Point): string {
  if (!words) return '';
  const decoded = readPoint(words, point);
  if (!decoded.ok) return 'not readable';
  if (point.type === 'bit') return decoded.value.value ? 'on' : 'off';
  const code = point.codes.find(({ value }) => value === Number(decoded.value.raw));
  if (code) return code.name;
  const text = plain(decoded.value.value, point);
  return point.unit && !Array.isArray(decoded.value.value) ? `${text} ${point.unit}` : text;
}

/** The same where it is only read: that a text is empty is said, so that it is not taken for one that is not there. */
export function readText(words: readonly number[] | null | undefined, point: Point): string {
  const text = valueText(words, point);
  return words && text === '' ? 'no text' : text;
}

/** Decimal digits up to which a number is shown. */
const MAX_DIGITS = 12;

function plain(value: Value, point: Point): string {
  if (Array.isArray(value)) {
    const names = value.map((bit) => point.bits.find((known) => known.bit === bit)?.name ?? `bit ${bit}`);
    return names.length ? names.join(', ') : 'no bit';
  }
  if (typeof value === 'string') return value;
  const type = typeOf(point.type);
  const rounded = Number(value.toPrecision(type.kind === 'float' ? type.digits : MAX_DIGITS));
  if (point.scale && 'factor' in point.scale && point.scale.factor < 1) {
    return rounded.toFixed(Math.min(6, Math.ceil(-Math.log10(point.scale.factor))));
  }
  return String(rounded);
}
