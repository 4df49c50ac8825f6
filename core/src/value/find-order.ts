import { isFloat, numericTypes, type NumericType, typeOf, widthOf } from '../types/index.js';
import { decode } from './decode.js';
import type { ByteOrder } from './order.js';

/** One way to read registers that gives about the value expected. */
export interface OrderCandidate {
  /** Which of the words it starts at, from 0. */
  at: number;
  type: NumericType;
  order: ByteOrder;
  factor: number;
  value: number;
  /** How far the value is from the one expected, without sign. */
  difference: number;
}

const ORDERS: Record<number, readonly ByteOrder[]> = {
  1: ['ABCD', 'BADC'],
  2: ['ABCD', 'CDAB', 'BADC', 'DCBA'],
  4: ['ABCDEFGH', 'GHEFCDAB', 'BADCFEHG', 'HGFEDCBA'],
};
const EXPONENTS = [0, -1, -2, -3, 1, 2, 3, -4, -5, -6, 4, 5, 6];

/** How far-fetched each order is, as in the lists above; a type says so itself. */
const orderCost = [0, 0.6, 1.2, 1.2];
const SHARE = 0.02;
const NEAREST = 5;
const MAX_CANDIDATES = 60;

/**
 * Reads the words in every type, order and power of ten from −6 to 6, starting at each of them, and ranks what comes near
 * the value expected: a plain reading beats a contrived one that is only a little nearer. Without a tolerance 2 % are taken,
 * and where nothing is so near, the nearest few are told.
 * Example: `findOrder([0xcccd, 0x4276], 61.7)` has float32 in CDAB first.
 */
export function findOrder(words: readonly number[], expected: number, tolerance?: number): OrderCandidate[] {
  const all = words.flatMap((_, at) => numericTypes.flatMap((type) => readingsAt(words, at, type, expected)));
  const near = tolerance ?? (Math.abs(expected) * SHARE || 0.01);
  const within = all.filter(({ difference }) => difference <= near);
  if (within.length === 0 && tolerance === undefined) {
    return all.sort((a, b) => a.difference - b.difference || contrived(a) - contrived(b)).slice(0, NEAREST);
  }
  const cost = (candidate: OrderCandidate) => contrived(candidate) + (near > 0 ? (2 * candidate.difference) / near : 0);
  return within.sort((a, b) => cost(a) - cost(b) || a.at - b.at).slice(0, MAX_CANDIDATES);
}

function readingsAt(words: readonly number[], at: number, type: NumericType, expected: number): OrderCandidate[] {
  const width = widthOf(type);
  if (at + width > words.length) return [];
  const part = words.slice(at, at + width);
  return ORDERS[width]!.flatMap((order) => {
    const decoded = decode(part, { type, order });
    const raw = decoded.ok ? Number(decoded.value.raw) : NaN;
    if (!Number.isFinite(raw)) return [];
    return EXPONENTS.map((exponent): OrderCandidate => {
      const factor = Number(`1e${exponent}`);
      const value = factor === 1 ? raw : Number((raw * factor).toPrecision(15));
      return { at, type, order, factor, value, difference: Math.abs(Number((value - expected).toPrecision(12))) };
    });
  });
}

function contrived({ at, type, order, factor, value }: OrderCandidate): number {
  const orders = ORDERS[order.length === 8 ? 4 : 2]!;
  const exponent = Math.round(Math.log10(factor));
  // A float already has its point; an integer is often scaled down by a few digits and hardly ever up.
  const scaled = exponent === 0 ? 0 : isFloat(type) ? 3 + Math.abs(exponent) : exponent < 0 ? 0.4 - exponent * 0.3 : 2 + exponent;
  const swapped = widthOf(type) === 1 && order === 'BADC' ? 1.5 : orderCost[orders.indexOf(order)]!;
  const zero = value === 0 ? 4 : 0;
  return typeOf(type).guessCost + swapped + scaled + zero + at * 0.3;
}
