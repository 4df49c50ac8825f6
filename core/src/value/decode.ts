import { bad, good, type Outcome } from '../outcome/index.js';
import { hasFreeLength, typeOf, widthOf } from '../types/index.js';
import type { Layout } from './layout.js';
import { reorder, reorderText } from './order.js';
import { toUnits } from './scale.js';
import type { Value } from './value.js';

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
  const { type, order = 'ABCD', scale } = layout;
  const width = hasFreeLength(type) ? (layout.length ?? words.length) : widthOf(type);
  if (words.length !== width) {
    const verb = words.length === 1 ? 'was' : 'were';
    return bad(`${type} takes ${width} register${width === 1 ? '' : 's'}; ${words.length} ${verb} given.`, 'words');
  }
  const definition = typeOf(type);
  if (definition.kind === 'text') {
    const text = definition.readText(reorderText(words, order), layout.encoding ?? 'ascii');
    return text.ok ? good({ raw: text.value, value: text.value }) : text;
  }
  const plain = reorder(words, order);
  if (!plain.ok) return plain;
  switch (definition.kind) {
    case 'bits':
    case 'bit':
      return good(decodeBits(plain.value));
    case 'wide': {
      const raw = definition.read(plain.value);
      return good({ raw: String(raw), value: scale ? named(toUnits(Number(raw), scale)) : String(raw) });
    }
    case 'float':
      return good(inUnits(definition.read(plain.value), layout));
    case 'whole': {
      const read = definition.read(plain.value);
      return read.ok ? good(inUnits(read.value, layout)) : read;
    }
  }
}

function inUnits(raw: number, { scale }: Layout): Decoded {
  return { raw: named(raw), value: named(scale ? toUnits(raw, scale) : raw) };
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
