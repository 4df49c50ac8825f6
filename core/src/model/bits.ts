import { isWritable } from '../address/index.js';
import { typeOf } from '../types/index.js';
import { encode } from '../value/index.js';
import { type Point, pointLayout, readPoint } from './point.js';

/** A bit that has a name in its point, and how it stands. */
export interface BitState {
  bit: number;
  name: string;
  on: boolean;
}

/** The named bits of a point as its registers hold them, in whatever order; none where it has none, or they cannot be read. */
export function namedBits(words: readonly number[] | null | undefined, point: Point): BitState[] {
  const on = words ? bitsOn(words, point) : null;
  return on ? point.bits.map(({ bit, name }) => ({ bit, name, on: on.includes(bit) })) : [];
}

/** The registers of a point with one of its bits turned over, and all others as they are; null where it has no bits that can be read. */
export function withBitTurned(words: readonly number[], point: Point, bit: number): number[] | null {
  const [on, layout] = [bitsOn(words, point), pointLayout(point)];
  if (!on || !layout) return null;
  const encoded = encode(on.includes(bit) ? on.filter((each) => each !== bit) : [...on, bit], layout);
  return encoded.ok ? encoded.value.words : null;
}

/** Whether a value can be written to it: what it is, and what its table allows. */
export function canBeWritten({ access, table }: Pick<Point, 'access' | 'table'>): boolean {
  return access !== 'read' && isWritable(table);
}

function bitsOn(words: readonly number[], point: Point): number[] | null {
  if (typeOf(point.type).kind !== 'bits') return null;
  const read = readPoint(words, point);
  return read.ok && Array.isArray(read.value.value) ? read.value.value : null;
}
