import { decode } from '@plain-envoy/core/value';

/** One register, and the ones after it, in every way in which a person may want to look at it. */
export interface WordViews {
  decimal: string;
  signed: string;
  hex: string;
  binary: string;
  text: string;
  /** As a float in ABCD, CDAB, BADC and DCBA; empty where the next register was not read. */
  floats: string[];
}

const orders = ['ABCD', 'CDAB', 'BADC', 'DCBA'] as const;

export function viewsOf(word: number, next: number | undefined): WordViews {
  const characters = [word >>> 8, word & 0xff].map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·'));
  return {
    decimal: String(word),
    signed: String(word > 0x7fff ? word - 0x1_0000 : word),
    hex: word.toString(16).toUpperCase().padStart(4, '0'),
    binary: word
      .toString(2)
      .padStart(16, '0')
      .replace(/(.{4})(?=.)/g, '$1 '),
    text: characters.join(''),
    floats: next === undefined ? [] : orders.map((order) => floatText([word, next], order)),
  };
}

function floatText(words: number[], order: (typeof orders)[number]): string {
  const read = decode(words, { type: 'float32', order });
  const value = read.ok ? Number(read.value.value) : NaN;
  return Number.isFinite(value) ? String(Number(value.toPrecision(6))) : '–';
}
