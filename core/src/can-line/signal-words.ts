import { type CanSignal, readSignal, signalProblem, writeSignal } from '../can/index.js';
import { type Point, pointLayout, pointWidth, readPoint } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import type { PointPlace } from '../place/index.js';
import { typeOf } from '../types/index.js';
import { encode } from '../value/index.js';

type Stretch = Pick<CanSignal, 'firstBit' | 'bits' | 'order'>;

/** The bits of a value in a cyclic block, as those of a frame are told. A value within one byte has no order. */
export function blockStretch({
  byte,
  bit,
  bits,
  order,
}: Pick<Extract<PointPlace, { kind: 'cyclic' }>, 'byte' | 'bit' | 'bits' | 'order'>): Stretch {
  return order === 'big' && bits > 8 ? { firstBit: 8 * byte + 7, bits, order } : { firstBit: 8 * byte + bit, bits, order: 'little' };
}

function stretchOf(place: PointPlace): Stretch | null {
  if (place.kind === 'cyclic') return blockStretch(place);
  return place.kind === 'signal' ? place : null;
}

/** The bits of a frame or a cyclic block in which the raw value of a point lies; null for a point that lies in none. */
export function signalOf({ name, place, type }: Pick<Point, 'name' | 'place' | 'type'>): CanSignal | null {
  const stretch = stretchOf(place);
  if (!stretch) return null;
  const { firstBit, bits, order } = stretch;
  return { name, firstBit, bits, order, factor: 1, offset: 0, signed: /^int/.test(type), float: /^float/.test(type) };
}

/** The registers that hold what a frame says of a point, as the point lays its values out; a single bit as 0 or 1. */
export function wordsOfSignal(data: Uint8Array, point: Point): Outcome<number[]> {
  const signal = signalOf(point);
  if (!signal) return bad(`${point.name} is no signal.`);
  const wrong = signalProblem(signal, data.length, messageWord(point));
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
  const wrong = signalProblem(signal, data.length, messageWord(point));
  if (wrong) return bad(wrong);
  if (!pointLayout(point)) return writeSignal(data, signal, words[0] ? 1 : 0);
  const read = readPoint(words, point);
  return read.ok ? writeSignal(data, signal, read.value.raw) : read;
}

function messageWord({ place }: Pick<Point, 'place'>): string {
  return place.kind === 'cyclic' ? `the ${place.block}` : 'the frame';
}

/** The registers of a count that is told; it begins anew where they are full. A bit says whether there is any. */
export function wordsOfCount(count: number, point: Point): number[] {
  if (point.type === 'bit') return [Number(count > 0)];
  const width = pointWidth(point);
  return Array.from({ length: width }, (_, index) => Math.floor(count / 65_536 ** (width - 1 - index)) % 65_536);
}

/** Whether numbers of this type can be in a frame: whole ones and those with a floating point. */
export function canBeSignal({ type }: Pick<Point, 'type'>): boolean {
  return ['bit', 'bits', 'whole', 'wide', 'float'].includes(typeOf(type).kind);
}
