import type { Layout } from './layout.js';
import { numerics } from './numeric.js';
import { reorder, reorderText } from './order.js';
import { toUnits } from './scale.js';
import { textFromWords } from './text.js';
import { type Value, widthOf, hasFreeLength } from './types.js';
import { bad, good, type Outcome } from '../outcome/index.js';

export interface Decoded {
  raw: Value;
  value: Value;
}

/**
 * Registers to a value. `raw` is what they hold, `value` the same after scaling.
 * 64-bit integers come as decimal strings, NaN and the infinities by name, bits as the list of those set (0 is the lowest).
 * Example: `decode([0xcccd, 0x4276], { type: 'float32', order: 'CDAB' })` gives 61.70000076293945.
 */
export function decode(words: readonly number[], layout: Layout): Outcome<Decoded> {
  const { type, order = 'ABCD' } = layout;
  const width = hasFreeLength(type) ? (layout.length ?? words.length) : widthOf(type);
  if (words.length !== width) {
    const verb = words.length === 1 ? 'was' : 'were';
    return bad(`${type} takes ${width} register${width === 1 ? '' : 's'}; ${words.length} ${verb} given.`, 'words');
  }
  if (type === 'string') {
    const text = textFromWords(reorderText(words, order), layout.encoding ?? 'ascii');
    return text.ok ? good({ raw: text.value, value: text.value }) : text;
  }
  const plain = reorder(words, order);
  if (!plain.ok) return plain;
  if (type === 'bits') return good(decodeBits(plain.value));

  const numeric = numerics[type];
  if (numeric.kind === 'wide') {
    const raw = numeric.read(plain.value);
    return good({ raw: String(raw), value: layout.scale ? named(toUnits(Number(raw), layout.scale)) : String(raw) });
  }
  const read = numeric.kind === 'whole' ? numeric.read(plain.value) : good(numeric.read(plain.value));
  if (!read.ok) return read;
  return good({ raw: named(read.value), value: named(layout.scale ? toUnits(read.value, layout.scale) : read.value) });
}

/** Registers as one whole number, the first the most significant. */
export function wholeOf(words: readonly number[]): bigint {
  return words.reduce((sum, word) => (sum << 16n) | BigInt(word), 0n);
}

function decodeBits(words: readonly number[]): Decoded {
  const whole = wholeOf(words);
  const value = Array.from({ length: words.length * 16 }, (_, bit) => bit).filter((bit) => (whole >> BigInt(bit)) & 1n);
  return { raw: words.length <= 2 ? Number(whole) : String(whole), value };
}

function named(value: number): number | string {
  return Number.isFinite(value) ? value : String(value);
}
