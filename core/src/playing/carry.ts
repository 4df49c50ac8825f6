import { pointWidth } from '../model/index.js';
import { typeOf, type NumberType } from '../types/index.js';
import type { Placed } from './variables.js';
import { decode, encode, type Layout, reorder, wholeOf } from '../value/index.js';

/** How a point gets from its registers into a variable of a program, and back. */
export interface Carry {
  /** The value of the words as a program holds it; null where they hold none, such as a text that is none. */
  toProgram(words: readonly number[]): unknown;
  /** The words of a value; null where they cannot hold it. */
  toWords(value: unknown): number[] | null;
}

/** `words` are those that the point has, as they are on the wire; of a single bit the word that holds it. */
export function carryOf(point: Placed): Carry {
  const { order, bit } = point;
  if (point.type === 'bit') {
    const at = bit ?? 0;
    return { toProgram: ([word]) => ((word! >> at) & 1) === 1, toWords: (value) => [value ? 1 << at : 0] };
  }
  const { type } = point;
  const width = pointWidth(point);
  const definition = typeOf(type);
  const plain = (words: readonly number[]) => {
    const outcome = reorder(words, order);
    return outcome.ok ? outcome.value : null;
  };
  if (definition.kind === 'text') {
    const layout: Layout = { type, order, encoding: point.encoding ?? 'ascii', length: width };
    return {
      toProgram: (words) => {
        const decoded = decode(words, layout);
        return decoded.ok ? decoded.value.value : null;
      },
      toWords: (value) => {
        const encoded = encode(value as string, layout);
        return encoded.ok ? encoded.value.words : null;
      },
    };
  }
  const numeric = definition.kind === 'bits' || definition.kind === 'bit' || isDecimal(definition) ? null : definition;
  const raw = (words: readonly number[]): unknown => {
    if (!numeric) return width > 2 ? wholeOf(words) : Number(wholeOf(words));
    const read = numeric.read(words);
    return typeof read === 'object' ? (read.ok ? read.value : null) : read;
  };
  return {
    toProgram: (words) => {
      const sorted = plain(words);
      return sorted && raw(sorted);
    },
    toWords: (value) => {
      const words = numeric ? (numeric.write as (value: unknown) => number[])(value) : wordsOf(BigInt(value as number), width);
      return plain(words);
    },
  };
}

/** Coded decimals are bit strings in a program, which takes their digits apart itself. */
function isDecimal(definition: NumberType): boolean {
  return /^D?WORD$/.test(definition.iec.declare(definition.width));
}

function wordsOf(whole: bigint, width: number): number[] {
  return Array.from({ length: width }, (_, index) => Number((whole >> BigInt(16 * (width - 1 - index))) & 0xffffn));
}
