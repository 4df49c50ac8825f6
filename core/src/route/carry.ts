import { type Point, pointLayout, pointWidth, readPoint, type Route } from '../model/index.js';
import { type ChainMemory, wordsOfSource, memoryOf, runStep, bitsOfDestination, numberFrom, stepOf } from '../steps/index.js';
import { typeOf } from '../types/index.js';
import { decode, encode, type Layout, type Value } from '../value/index.js';
import { forSteps, type Surroundings } from './surroundings.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** A route as far as its value is concerned. */
export type Chain = Pick<Route, 'carry' | 'transforms'> & { source: Point; destination: Point };

export function chainOf({ carry, transforms }: Pick<Route, 'carry' | 'transforms'>, source: Point, destination: Point): Chain {
  return { carry, transforms, source, destination };
}

/** What is to be written now, or that nothing is. `masks` says which bits of each register belong to the route; null for all. */
export type Carried =
  | {
      kind: 'words';
      words: number[];
      masks: number[] | null;
      value: Value | null;
      memory: ChainMemory;
      /** Why what arrives is not the whole of it; null where it is. */
      limited: string | null;
    }
  | { kind: 'held' };

const alone: Surroundings = { nowMs: 0, wordsOf: () => null, point: () => undefined };

/**
 * What has to be written at the destination for the words (or the bit) read at the source. By *registers* they cross
 * untouched; by *value* they are decoded as the source states, led through the steps, and encoded as the destination does,
 * so that 61.5 °C in a float arrives as 615 in a register of tenths. What cannot be carried is a problem in a sentence.
 */
export function carryAcross(
  words: readonly number[],
  chain: Chain,
  memory: ChainMemory = [],
  around: Surroundings = alone,
): Outcome<Carried> {
  const { source, destination, carry, transforms } = chain;
  const isUntouched = carry === 'registers' && transforms.length === 0 && source.type !== 'bit' && destination.type !== 'bit';
  if (isUntouched)
    return good({ kind: 'words', words: words.slice(), masks: null, value: null, memory, limited: fullOf(words, destination) });
  const read = readPoint(wordsOfSource(transforms, words), source);
  if (!read.ok) return bad(`${source.name} cannot be read: ${read.problem.message}`);
  const { values, isHeld, problem } = valuesAlong(read.value.value, transforms, memory, around);
  if (problem !== null) return bad(problem);
  if (isHeld) return good({ kind: 'held' });
  const value = values.at(-1)!;
  const remembered = memoryOf(transforms, values, around.nowMs);
  const written = wordsFor(value, chain);
  if (!written.ok) return bad(`${destination.name} cannot take it: ${written.problem.message}`);
  const limited = cutBy(transforms, values) ?? fullOf(written.value, destination);
  return good({ kind: 'words', words: written.value, masks: masksOf(chain), value, memory: remembered, limited });
}

function cutBy(transforms: Chain['transforms'], values: readonly Value[]): string | null {
  const index = transforms.findIndex((step, at) => typeof values[at] === 'number' && stepOf(step.kind).cuts(step, values[at]));
  return index < 0 ? null : `A step limits it: ${String(values[index])} became ${String(values[index + 1])}.`;
}

/** A quantity at the end of what its point can hold may be more than that. */
function fullOf(words: readonly number[], point: Point): string | null {
  if (point.unit === '' && point.scale === null) return null;
  const type = typeOf(point.type);
  const layout = pointLayout(point);
  if ((type.kind !== 'whole' && type.kind !== 'wide') || !layout) return null;
  const raw = decode(words, { type: layout.type, order: layout.order });
  if (!raw.ok) return null;
  const isEnd = [type.high, ...(type.low < 0 ? [type.low] : [])].some((end) => String(end) === String(raw.value.value));
  return isEnd ? `${point.name} is at the end of what it can hold, so that it may be more.` : null;
}

/** The value at the source and after each step, as far as it comes; then why it comes no further, or that it is held back. */
export function valuesAlong(
  from: Value,
  steps: Chain['transforms'],
  memory: ChainMemory = [],
  around: Surroundings = alone,
): { values: Value[]; isHeld: boolean; problem: string | null } {
  const values = [from];
  const surroundings = forSteps(around);
  for (const [index, step] of steps.entries()) {
    const stepped = runStep(step, values.at(-1)!, surroundings, memory[index]);
    if (!stepped.ok) return { values, isHeld: false, problem: `Step ${index + 1}, ${step.kind}: ${stepped.problem.message}` };
    if (stepped.value.kind === 'held') return { values, isHeld: true, problem: null };
    values.push(stepped.value.value);
  }
  return { values, isHeld: false, problem: null };
}

/** Which bits of each register of the destination belong to the route; null where all of them do, and for coils. */
export function masksOf({ destination, transforms }: Pick<Chain, 'destination' | 'transforms'>): number[] | null {
  if (destination.bit !== null) return [1 << destination.bit];
  const part = bitsOfDestination(transforms);
  const layout = pointLayout(destination);
  if (!part || !layout) return null;
  const all = 2 ** part.count - 1;
  const masks = encode(all * 2 ** part.at, asBits(layout, destination));
  return masks.ok ? masks.value.words : null;
}

/** The words of a value at the destination, by its own type or, for a part of it, at the place of that part. */
export function wordsFor(value: Value, { destination, transforms }: Pick<Chain, 'destination' | 'transforms'>): Outcome<number[]> {
  const layout = pointLayout(destination);
  if (!layout) {
    const bit = numberFrom(value);
    if (!bit.ok) return bit;
    if (bit.value !== 0 && bit.value !== 1) return bad(`${bit.value} is no bit; take out the bit that is meant.`);
    return good([bit.value << (destination.bit ?? 0)]);
  }
  const part = bitsOfDestination(transforms);
  if (!part) {
    const encoded = encode(value, layout);
    return encoded.ok ? good(encoded.value.words) : encoded;
  }
  const number = numberFrom(value);
  if (!number.ok) return number;
  if (!Number.isInteger(number.value) || number.value < 0 || number.value >= 2 ** part.count)
    return bad(
      `${number.value} does not fit into ${part.count} bit${part.count === 1 ? '' : 's'}, which hold 0 to ${2 ** part.count - 1}.`,
    );
  const encoded = encode(number.value * 2 ** part.at, asBits(layout, destination));
  return encoded.ok ? good(encoded.value.words) : encoded;
}

function asBits({ order }: Layout, destination: Point): Layout {
  return { type: 'bits', length: pointWidth(destination), ...(order ? { order } : {}) };
}
