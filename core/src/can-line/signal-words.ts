import { type CanSignal, readSignal, signalProblem, writeSignal } from '../can/index.js';
import { type Point, pointLayout, readPoint } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { typeOf } from '../types/index.js';
import { encode } from '../value/index.js';

/** The signal in which the raw value of a point lies; null for a point that lies in none. */
export function signalOf({ name, place, type }: Pick<Point, 'name' | 'place' | 'type'>): CanSignal | null {
  if (place.kind !== 'signal') return null;
  const { firstBit, bits, order } = place;
  return { name, firstBit, bits, order, factor: 1, offset: 0, signed: /^int/.test(type), float: /^float/.test(type) };
}

/** The registers that hold what a frame says of a point, as the point lays its values out; a single bit as 0 or 1. */
export function wordsOfSignal(data: Uint8Array, point: Point): Outcome<number[]> {
  const signal = signalOf(point);
  if (!signal) return bad(`${point.name} is no signal.`);
  const wrong = signalProblem(signal, data.length);
  if (wrong) return bad(wrong);
  const raw = readSignal(data, signal);
  const layout = pointLayout(point);
  if (!layout) return good([raw === 0 ? 0 : 1]);
  const encoded = encode(raw, { ...layout, scale: undefined });
  return encoded.ok ? good(encoded.value.words) : encoded;
}

/** Puts what registers hold for a point into the data of its frame; a problem where it does not fit, and nothing is put then. */
export function putSignal(data: Uint8Array, point: Point, words: readonly number[]): Outcome<undefined> {
  const signal = signalOf(point);
  if (!signal) return bad(`${point.name} is no signal.`);
  const wrong = signalProblem(signal, data.length);
  if (wrong) return bad(wrong);
  if (!pointLayout(point)) return writeSignal(data, signal, words[0] ? 1 : 0);
  const read = readPoint(words, point);
  return read.ok ? writeSignal(data, signal, read.value.raw) : read;
}

/** Whether numbers of this type can be in a frame: whole ones and those with a floating point. */
export function canBeSignal({ type }: Pick<Point, 'type'>): boolean {
  return ['bit', 'bits', 'whole', 'wide', 'float'].includes(typeOf(type).kind);
}
