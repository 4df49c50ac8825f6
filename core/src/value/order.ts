import * as z from 'zod';
import { bad, good, type Outcome } from '../outcome/index.js';

export const byteOrders = ['ABCD', 'CDAB', 'BADC', 'DCBA', 'ABCDEFGH', 'GHEFCDAB', 'BADCFEHG', 'HGFEDCBA'] as const;
export const ByteOrder = z.enum(byteOrders).describe('Byte order on the wire; A is the most significant byte');
export type ByteOrder = z.infer<typeof ByteOrder>;

/** An order is two independent swaps: of the registers of a value, and of the two bytes inside each register. */
interface Swaps {
  registers: boolean;
  bytes: boolean;
}

const swaps: Record<ByteOrder, Swaps> = {
  ABCD: { registers: false, bytes: false },
  CDAB: { registers: true, bytes: false },
  BADC: { registers: false, bytes: true },
  DCBA: { registers: true, bytes: true },
  ABCDEFGH: { registers: false, bytes: false },
  GHEFCDAB: { registers: true, bytes: false },
  BADCFEHG: { registers: false, bytes: true },
  HGFEDCBA: { registers: true, bytes: true },
};

/**
 * Puts words as they are on the wire into the plain order (most significant first), or back: each order is its own inverse.
 * Example: `reorder([0xcccd, 0x4276], 'CDAB')` gives `[0x4276, 0xcccd]`.
 * An eight-letter order is refused for anything but four words.
 */
export function reorder(words: readonly number[], order: ByteOrder): Outcome<number[]> {
  if (order.length === 8 && words.length !== 4) {
    return bad(`Order ${order} names eight bytes, but the value has ${words.length * 2}.`, 'order');
  }
  const swap = swaps[order];
  const swapped = swap.bytes ? words.map(swapBytes) : [...words];
  return good(swap.registers ? swapped.reverse() : swapped);
}

/** Text runs on from register to register, so only the bytes inside a register can be swapped. */
export function reorderText(words: readonly number[], order: ByteOrder): number[] {
  return swaps[order].bytes ? words.map(swapBytes) : [...words];
}

function swapBytes(word: number): number {
  return ((word & 0xff) << 8) | (word >>> 8);
}

/** The four-letter name of an order: the same two swaps, for values of any width. */
export function shortOrder(order: ByteOrder): ByteOrder {
  const { registers, bytes } = swaps[order];
  return bytes ? (registers ? 'DCBA' : 'BADC') : registers ? 'CDAB' : 'ABCD';
}
