import { checksum, ChecksumKind } from '../frame/index.js';
import type { CanSignal } from './signal.js';

/** What a signal that was found in recorded frames is taken for. */
export type SignalKind = 'counter' | 'check' | 'number' | 'flag';

/** A signal that recorded frames show, with what speaks for it. */
export interface FoundSignal {
  kind: SignalKind;
  signal: CanSignal;
  why: string;
}

/** Fewer frames say nothing. */
export const FEWEST_FRAMES = 8;
/** And so many say as much as more. */
const MOST_FRAMES = 5000;
/** So many times more smoothly than read the other way, or than its bytes alone, a word moves. */
const SMOOTHER = 4;
/** A byte of which at most so many bits move is one of single bits, where they do not count together. */
const MOST_FLAGS = 2;
/** So much of the steps of a counter are by one; a frame may be missing now and then. */
const STEADY = 0.8;
const MOST_MISSED = 3;

type Data = readonly Uint8Array[];

/**
 * The signals that frames of one identifier show by how they move: checksums over the other bytes, counters, numbers of one, two and four
 * bytes in the order in which they move smoothly, and single bits. Of very many frames the first are looked at, and those of another length
 * than the first are left out; what never moves is not found.
 */
export function learnSignals(all: Data): FoundSignal[] {
  const frames = all.slice(0, MOST_FRAMES).filter(({ length }) => length === all[0]!.length);
  if (frames.length < FEWEST_FRAMES) return [];
  const bytes = frames[0]!.length;
  const taken = new Array<boolean>(bytes).fill(false);
  const found: FoundSignal[] = [];
  const take = (one: FoundSignal, from: number, count: number) => {
    found.push(one);
    taken.fill(true, from, from + count);
  };
  // Where all bytes together come to nothing, each is the checksum of the others: it is taken to be the last.
  for (let at = bytes - 1; at >= 0 && found.length === 0; at--) {
    const check = moves(frames, at) ? checkAt(frames, at) : null;
    if (check) take(check, at, 1);
  }
  for (const width of [2, 1])
    for (let at = 0; at + width <= bytes; at++) {
      if (isTaken(taken, at, width)) continue;
      const counter = countersAt(at, width)
        .map((signal) => counterIn(frames, signal))
        .find((one) => one !== null);
      if (counter) take(counter, at, width);
    }
  for (const width of [4, 2])
    for (let at = 0; at + width <= bytes; at += 1) {
      if (isTaken(taken, at, width)) continue;
      const number = numberIn(frames, at, width);
      if (number) take(number, at, width);
    }
  for (let at = 0; at < bytes; at++) if (!taken[at]) found.push(...inByte(frames, at));
  return found.sort((a, b) => a.signal.firstBit - b.signal.firstBit);
}

function isTaken(taken: readonly boolean[], at: number, width: number): boolean {
  return taken.slice(at, at + width).includes(true);
}

function moves(frames: Data, at: number): boolean {
  return frames.some((data) => data[at] !== frames[0]![at]);
}

const shapeOf = (kind: SignalKind, fields: Pick<CanSignal, 'firstBit' | 'bits' | 'order'>): CanSignal => ({
  ...{ name: `${kind}${fields.firstBit}`, signed: false, factor: 1, offset: 0, float: false },
  ...fields,
});

/** A stretch of bytes as one whole number, in either order; of one byte there is only one. */
function candidates(at: number, width: number, kind: SignalKind): CanSignal[] {
  const little = shapeOf(kind, { firstBit: 8 * at, bits: 8 * width, order: 'little' });
  return width === 1 ? [little] : [little, shapeOf(kind, { firstBit: 8 * at + 7, bits: 8 * width, order: 'big' })];
}

/** What a signal of half a byte or of whole ones says in each frame, without a sign. */
function series(frames: Data, { firstBit, bits, order }: CanSignal): number[] {
  const at = firstBit >> 3;
  if (bits < 8) return frames.map((data) => (data[at]! >> (firstBit & 7)) & 0xf);
  const places = Array.from({ length: bits / 8 }, (_, index) => at + (order === 'little' ? bits / 8 - 1 - index : index));
  return frames.map((data) => places.reduce((value, place) => value * 256 + data[place]!, 0));
}

/** A checksum over all other bytes that is right in every frame, and was not a matter of chance. */
function checkAt(frames: Data, at: number): FoundSignal | null {
  const rest = frames.map((data) => data.filter((_, index) => index !== at));
  const kind = ChecksumKind.options
    .filter((one) => one !== 'crc16-modbus')
    .find((one) => rest.every((data, index) => data.length > 1 && checksum(one, data).value === frames[index]![at]));
  const others = new Set(rest.map((data) => data.join())).size;
  if (!kind || others < FEWEST_FRAMES / 2) return null;
  // Two bytes that always hold the same have each other for a checksum.
  const moving = rest[0]!.filter((_, index) => moves(rest, index)).length;
  if (moving < 2) return null;
  const signal = shapeOf('check', { firstBit: 8 * at, bits: 8, order: 'little' });
  return { kind: 'check', signal, why: `It is the ${kind} of all other bytes, in each of ${frames.length} frames.` };
}

/** A number that goes on by one from frame to frame; one of two bytes only where the higher one has moved. */
function counterIn(frames: Data, signal: CanSignal): FoundSignal | null {
  const all = series(frames, signal);
  const wraps = 2 ** signal.bits;
  const steps = all.slice(1).map((value, index) => (value - all[index]! + wraps) % wraps);
  const ones = steps.filter((step) => step === 1).length;
  if (ones < STEADY * steps.length || steps.some((step) => step < 1 || step > MOST_MISSED)) return null;
  if (signal.bits > 8 && all.every((value) => value >> 8 === all[0]! >> 8)) return null;
  return {
    kind: 'counter',
    signal,
    why: `It goes on by one in ${ones} of ${steps.length} steps${signal.bits < 8 ? ', in half a byte' : ''}.`,
  };
}

/** What may count: whole bytes, or one half of a byte of which the other does something else. */
function countersAt(at: number, width: number): CanSignal[] {
  const halves = [8 * at, 8 * at + 4].map((firstBit) => shapeOf('counter', { firstBit, bits: 4, order: 'little' }));
  return [...candidates(at, width, 'counter'), ...(width === 1 ? halves : [])];
}

/**
 * A word: its high half goes on where its low half goes over its end. One of two bytes may also just move smoothly in one order and not in
 * the other, as a fast one does; of four bytes that says nothing, since the highest of them decides alone.
 */
function numberIn(frames: Data, at: number, width: number): FoundSignal | null {
  const moving = Array.from({ length: width }, (_, index) => moves(frames, at + index)).filter(Boolean).length;
  if (moving < width / 2 + 1) return null;
  const read = candidates(at, width, 'number').map((signal) => {
    const values = series(frames, signal);
    return { signal, values, carries: carriesIn(values, signal.bits), rough: roughness(values) };
  });
  const carrying = read.filter(({ carries }) => carries > 0).sort((a, b) => b.carries - a.carries)[0];
  const [smooth, other] = [...read].sort((a, b) => a.rough - b.rough);
  const best = carrying ?? (width === 2 && smooth!.rough * SMOOTHER <= other!.rough ? smooth! : null);
  if (!best) return null;
  const { signal, values, carries } = best;
  const why = carrying
    ? `Its high half goes on when its low half goes over its end, ${carries} ${carries === 1 ? 'time' : 'times'}.`
    : `Read ${signal.order === 'little' ? 'lowest' : 'highest'} byte first it moves much more smoothly.`;
  return { kind: 'number', signal: { ...signal, signed: crossesZero(values, signal.bits) }, why };
}

/**
 * How often the high half of a number that moves slowly went on with its low half; 0 where it ever moved otherwise, give or take one in
 * twenty.
 */
function carriesIn(values: readonly number[], bits: number): number {
  const half = 2 ** (bits / 2);
  let [right, wrong] = [0, 0];
  values.slice(1).forEach((value, index) => {
    const before = values[index]!;
    const step = (((((value % half) - (before % half) + 1.5 * half) % half) + half) % half) - half / 2;
    const carry = Math.floor(((before % half) + step) / half);
    const moved = Math.floor(value / half) - Math.floor(before / half);
    const isOverEnd = Math.abs(moved) === half - 1;
    if (moved === 0 && carry === 0) return;
    if (moved === carry || (isOverEnd && carry === -Math.sign(moved))) right += 1;
    else wrong += 1;
  });
  return wrong * 20 <= right ? right : 0;
}

/** The mean step in parts of the width of the number: a step over its end, as of −1 to 0, counts as a small one. */
function roughness(values: readonly number[]): number {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const width = most - least || 1;
  const span = 2 ** Math.ceil(Math.log2(most + 1) || 1);
  const steps = values.slice(1).map((value, index) => {
    const step = Math.abs(value - values[index]!);
    return Math.min(step, span - step);
  });
  return steps.reduce((sum, step) => sum + step, 0) / steps.length / width;
}

/** Whether it is small above 0 and just below its end, as one with a sign about 0 is. */
function crossesZero(values: readonly number[], bits: number): boolean {
  const end = 2 ** bits;
  return (
    values.every((value) => value < end / 4 || value > (3 * end) / 4) &&
    values.some((value) => value > (3 * end) / 4) &&
    values.some((value) => value < end / 4)
  );
}

/** What is in a byte that belongs to no word: single bits, or a number. */
function inByte(frames: Data, at: number): FoundSignal[] {
  const moved = Array.from({ length: 8 }, (_, bit) => bit).filter((bit) =>
    frames.some((data) => ((data[at]! ^ frames[0]![at]!) >> bit) & 1),
  );
  if (moved.length === 0) return [];
  if (moved.length > MOST_FLAGS) {
    const signal = shapeOf('number', { firstBit: 8 * at, bits: 8, order: 'little' });
    return [{ kind: 'number', signal, why: `${moved.length} bits of one byte move.` }];
  }
  return moved.map((bit) => ({
    kind: 'flag' as const,
    signal: shapeOf('flag', { firstBit: 8 * at + bit, bits: 1, order: 'little' }),
    why: `It is the ${moved.length === 1 ? 'only bit' : 'one bit of two'} that moves in its byte.`,
  }));
}
