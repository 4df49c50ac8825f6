import { bitsOfSignal } from '../../can/index.js';
import { signalOf, wordsOfSignal } from '../../can-line/index.js';
import { toHex } from '../../frame/index.js';
import { type Point, readText } from '../../model/index.js';
import type { SeenPoint, ToldFrame } from '../told.js';

type Part = ToldFrame['fields'][number];

/** Fields of these bytes, each by its first and last one. */
export function partsOf(bytes: Uint8Array) {
  return (name: string, from: number, to: number, kind: Part['kind'], meaning: string): Part => ({
    ...{ name, from, to, kind, meaning },
    hex: toHex(bytes.subarray(from, to + 1)),
  });
}

/** What words that came say; of a single bit they are 0 or 1, wherever it lies in its register. */
export function saidOf(words: readonly number[], point: Point): string {
  return readText(words, point.type === 'bit' ? { ...point, bit: null } : point);
}

/** What points that lie in bits of a message say; those that lie in none say nothing. */
export function valuesIn(data: Uint8Array, points: readonly Point[]): SeenPoint[] {
  return points.flatMap((point): SeenPoint[] => {
    const words = wordsOfSignal(data, point);
    return words.ok ? [{ point, value: saidOf(words.value, point) }] : [];
  });
}

/** What of which values lies in a byte. */
export function inByte(points: readonly Point[], data: Uint8Array, byte: number): string {
  const here = points.flatMap((point) => {
    const signal = signalOf(point);
    if (!signal || !bitsOfSignal(signal).some((bit) => bit >> 3 === byte)) return [];
    const words = wordsOfSignal(data, point);
    return [words.ok ? `${point.name} ${saidOf(words.value, point)}` : `${point.name}: ${words.problem.message}`];
  });
  return here.join('; ') || 'no value lies here';
}
