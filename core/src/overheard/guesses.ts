import { decode } from '../value/index.js';
import type { ByteOrder } from '../value/index.js';
import type { ValueType } from '../types/index.js';
import { middleOf } from '../common/index.js';
import type { Sample } from './requests.js';

/** What registers next to each other seem to hold. */
export interface Guess {
  /** The first of its registers, counted from the beginning of the span. */
  at: number;
  width: number;
  type: ValueType;
  order: ByteOrder;
  why: string;
  /** From 0 (may be anything) to 1 (nobody would doubt it). */
  sure: number;
}

/** How one register moved. */
interface Moved {
  values: number[];
  changes: number;
  distinct: number;
  /** Of its changes, how far it jumped, as a share of all that it can hold: the middle. */
  jump: number;
  rises: boolean;
}

const WILD = 0.04;
const orders = ['ABCD', 'CDAB', 'BADC', 'DCBA'] as const;

/**
 * What the registers of a span hold, by how their values move: those that never did and hold 0 say nothing. `isApart` tells where
 * something else begins, as where one register of a span is written alone.
 */
export function guessAll(samples: readonly Sample[], isApart: (at: number) => boolean = () => false): Guess[] {
  const width = Math.min(...samples.map(({ values }) => values.length));
  if (!Number.isFinite(width) || width === 0) return [];
  const moved = Array.from({ length: width }, (_, at) => movedAt(samples, at));
  const sound = pairsIn(moved).filter(({ at }) => !isApart(at + 1));
  const known = mostlyIn(sound);
  const counters = moved.flatMap((_, at) => counterAt(moved, at, known) ?? []).filter(({ at }) => !isApart(at + 1));
  const taken = new Set<number>();
  const chosen: Guess[] = [];
  for (const guess of [...sound, ...counters].sort((a, b) => b.sure - a.sure || a.at - b.at)) {
    const own = [guess.at, guess.at + 1];
    if (own.some((at) => taken.has(at))) continue;
    for (const at of own) taken.add(at);
    chosen.push(guess);
  }
  for (const text of textsIn(moved, taken)) chosen.push(text);
  for (const [at, register] of moved.entries()) {
    const guess = taken.has(at) ? null : oneAt(register, at);
    if (guess) chosen.push(guess);
  }
  return chosen.sort((a, b) => a.at - b.at);
}

function movedAt(samples: readonly Sample[], at: number): Moved {
  const values = samples.map((sample) => sample.values[at]!);
  const steps = values.slice(1).map((value, index) => value - values[index]!);
  const changes = steps.filter((step) => step !== 0);
  const jumps = changes.map((step) => Math.min(Math.abs(step), 65_536 - Math.abs(step)) / 65_536);
  return {
    values,
    changes: changes.length,
    distinct: new Set(values).size,
    jump: jumps.length ? middleOf(jumps) : 0,
    rises: changes.length >= 2 && changes.every((step) => step > 0),
  };
}

/** Two registers of which one hardly moves while the other jumps about are a number that moves slowly. */
function pairsIn(moved: readonly Moved[]): Guess[] {
  return moved.slice(1).flatMap((second, at): Guess[] => {
    const first = moved[at]!;
    if (first.changes + second.changes === 0) return [];
    const guesses = orders.flatMap((order) =>
      [floatAt(first, second, at, order), wholeAt(first, second, at, order)].flatMap((guess) => guess ?? []),
    );
    const best = guesses.sort((a, b) => b.sure - a.sure)[0];
    return best ? [best] : [];
  });
}

function floatAt(first: Moved, second: Moved, at: number, order: ByteOrder): Guess | null {
  const numbers = decoded(first, second, 'float32', order);
  if (!numbers) return null;
  const sizes = numbers.map(Math.abs).filter((size) => size > 0);
  if (sizes.length === 0 || Math.max(...sizes) > 1e9 || Math.min(...sizes) < 1e-6) return null;
  const usual = middleOf(sizes);
  const step = roughness(numbers) / usual;
  if (!(step < 0.3)) return null;
  const isHighFirst = order === 'ABCD' || order === 'BADC';
  const [high, low] = isHighFirst ? [first, second] : [second, first];
  // The lower half of a number that moves runs through all that it can hold; or it is 0, where the number is a round one.
  const isWild = low.jump > WILD && low.distinct > Math.min(6, low.changes / 3);
  const isRound = low.distinct === 1 && low.values[0] === 0 && high.changes > 0 && usual >= 0.01 && usual <= 1e6;
  if (!isWild && !isRound) return null;
  const sure = (isWild ? 0.9 : 0.6) - step - (usual < 0.001 || usual > 1e7 ? 0.3 : 0) - (order === 'ABCD' || order === 'CDAB' ? 0 : 0.05);
  const [from, to] = [Math.min(...numbers), Math.max(...numbers)].map((number) => Number(number.toPrecision(5)));
  const why = `read as float32 ${order} it moves gently between ${from} and ${to}`;
  return { at, width: 2, type: 'float32', order, why, sure };
}

function wholeAt(first: Moved, second: Moved, at: number, order: ByteOrder): Guess | null {
  if (order !== 'ABCD' && order !== 'CDAB') return null;
  const [high, low] = order === 'ABCD' ? [first, second] : [second, first];
  if (high.changes === 0 || low.changes <= high.changes) return null;
  const numbers = decoded(first, second, 'int32', order);
  const steps = numbers!.slice(1).map((number, index) => Math.abs(number - numbers![index]!));
  const largest = Math.max(...steps);
  const carries = high.values.slice(1).every((value, index) => {
    const step = Math.abs(value - high.values[index]!);
    return step <= 1 || step === 65_535;
  });
  if (!carries || largest > 40_000) return null;
  const isSigned = numbers!.some((number) => number < 0);
  return {
    ...{ at, width: 2, type: isSigned ? 'int32' : 'uint32', order },
    why: 'the upper half goes on by one where the lower half begins again',
    sure: 0.85,
  };
}

/** What is most frequent among pairs that are sound: where they begin, and their order. */
interface Mostly {
  order: 'ABCD' | 'CDAB';
  parity: number | null;
}

function mostlyIn(pairs: readonly Guess[]): Mostly {
  const sure = pairs.filter((pair) => pair.sure > 0.5);
  const swapped = sure.filter(({ order }) => order === 'CDAB' || order === 'DCBA').length;
  const odd = sure.filter(({ at }) => at % 2 === 1).length;
  const parity = sure.length === 0 ? null : odd * 4 < sure.length ? 0 : odd * 4 > sure.length * 3 ? 1 : null;
  return { order: swapped * 2 > sure.length ? 'CDAB' : 'ABCD', parity };
}

/** What rose fewer times may as well be a measured value that drifts. */
const LEAST_RISES = 8;

/** A register that only counts up, beside one that never moved: the lower and the upper half of a counter. */
function counterAt(moved: readonly Moved[], at: number, { order, parity }: Mostly): Guess | null {
  const low = moved[at]!;
  if (!low.rises || low.changes < LEAST_RISES) return null;
  const first = order === 'ABCD' ? at - 1 : at;
  const high = moved[order === 'ABCD' ? at - 1 : at + 1];
  if (!high || high.changes > 0 || high.values[0]! > 0x7fff || (parity !== null && first % 2 !== parity)) return null;
  const isZero = high.values[0] === 0;
  return {
    ...{ at: first, width: 2, type: 'uint32', order },
    why: `it only counts up, and the register ${order === 'ABCD' ? 'before' : 'after'} it ${isZero ? 'is always 0' : 'does not move'}: its upper half, as counters have`,
    sure: isZero ? 0.35 : 0.45,
  };
}

/** Registers that never moved and hold printable characters. */
function textsIn(moved: readonly Moved[], taken: Set<number>): Guess[] {
  const texts: Guess[] = [];
  for (let at = 0; at < moved.length; at++) {
    let end = at;
    while (end < moved.length && !taken.has(end) && moved[end]!.changes === 0 && isPrintable(moved[end]!.values[0]!)) end += 1;
    if (end - at >= 3) {
      for (let own = at; own < end; own++) taken.add(own);
      texts.push({ at, width: end - at, type: 'string', order: 'ABCD', why: 'its bytes are characters, and it never moved', sure: 0.7 });
    }
    at = Math.max(at, end - 1);
  }
  return texts;
}

function isPrintable(word: number): boolean {
  return [word >>> 8, word & 0xff].every((byte) => byte >= 0x20 && byte < 0x7f);
}

function oneAt({ values, changes, distinct, jump }: Moved, at: number): Guess | null {
  const common = { at, width: 1, order: 'ABCD' } as const;
  const [low, high] = [Math.min(...values), Math.max(...values)];
  if (changes === 0) return high === 0 ? null : { ...common, type: 'uint16', why: `it always held ${high}`, sure: 0.2 };
  const signed = values.map((value) => (value > 0x7fff ? value - 65_536 : value));
  if (high > 0x7fff && Math.max(...signed) - Math.min(...signed) < 20_000)
    return { ...common, type: 'int16', why: `it goes below 0: between ${Math.min(...signed)} and ${Math.max(...signed)}`, sure: 0.6 };
  const flips = values.slice(1).map((value, index) => bitsIn(value ^ values[index]!));
  const single = flips.filter((count) => count > 0);
  if (high > 15 && distinct <= 16 && single.length >= 2 && middleOf(single) <= 1 && jump > 0.0004)
    return { ...common, type: 'bits', why: 'single bits of it come and go', sure: 0.4 };
  return { ...common, type: 'uint16', why: `it moves between ${low} and ${high}${hintOf(low, high)}`, sure: 0.4 };
}

/** What a range of raw values reminds of; it is said and not set. */
function hintOf(low: number, high: number): string {
  if (low >= 50 && high <= 1200 && high - low < 600) return `: in tenths that would be ${low / 10} to ${high / 10}`;
  return '';
}

function bitsIn(word: number): number {
  let count = 0;
  for (let rest = word; rest; rest &= rest - 1) count += 1;
  return count;
}

function decoded(first: Moved, second: Moved, type: 'float32' | 'int32', order: ByteOrder): number[] | null {
  const numbers: number[] = [];
  for (const [index, word] of first.values.entries()) {
    const read = decode([word, second.values[index]!], { type, order });
    const number = read.ok ? Number(read.value.raw) : NaN;
    if (!Number.isFinite(number)) return null;
    numbers.push(number);
  }
  return numbers;
}

/** How far a number goes from one sample to the next where it moves at all: the middle. */
function roughness(numbers: readonly number[]): number {
  const steps = numbers
    .slice(1)
    .map((number, index) => Math.abs(number - numbers[index]!))
    .filter((step) => step > 0);
  return steps.length ? middleOf(steps) : 0;
}
