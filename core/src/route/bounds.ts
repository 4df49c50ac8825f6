import { type Point, pointLayout, pointWidth } from '../model/index.js';
import { type Layout, toUnits } from '../value/index.js';
import type { Chain } from './carry.js';
import { rangeOf, isText, isNumeric, isFloat } from '../types/index.js';
import { type Transform, boundsThrough, backThrough, type Bounds, bitsOfDestination } from '../steps/index.js';

/** What can happen to a value on its way, with the value at the source from which on it does, where that can be told. */
export interface Overflow {
  side: 'above' | 'below';
  /** The last value that fits, in units of the destination. */
  limit: number;
  /** The same at the source; null where the chain cannot be followed back. */
  atSource: number | null;
  /** False where the source could be anything, so that it may never happen. */
  isCertain: boolean;
}

/** Values that the source can have and the destination cannot hold; empty where all fit, and for text. */
export function overflowsOf(chain: Chain): Overflow[] {
  const { source, destination, transforms, carry } = chain;
  if (carry !== 'value' || isText(source.type) || isText(destination.type)) return [];
  const arriving = boundsThrough(transforms, boundsOf(source));
  const room = roomOf(destination, transforms);
  const atSource = (limit: number) => {
    const back = backThrough(transforms, limit);
    return back === null ? null : Number(back.toPrecision(12));
  };
  const found: Overflow[] = [];
  if (arriving.high > room.high) found.push({ side: 'above', limit: room.high, atSource: atSource(room.high), isCertain: arriving.known });
  if (arriving.low < room.low) found.push({ side: 'below', limit: room.low, atSource: atSource(room.low), isCertain: arriving.known });
  return found;
}

/** Whether a value without known limits could be more than the destination holds. */
export function mayOverflow(chain: Chain): boolean {
  const overflows = overflowsOf(chain);
  return overflows.length > 0 && overflows.every(({ isCertain }) => !isCertain);
}

/** How fine the destination holds a value, where that is coarser than the source has it and no step rounds; null where nothing is lost. */
export function coarserThan({ source, destination, transforms, carry }: Chain): { source: number; destination: number } | null {
  if (carry !== 'value' || transforms.length > 0) return null;
  const [from, to] = [stepOf(source), stepOf(destination)];
  return from !== null && to !== null && to > from * 1.000_001 ? { source: from, destination: to } : null;
}

/** The smallest difference that a whole type shows, in units; null for floats, text and bits. */
function stepOf(point: Point): number | null {
  const layout = pointLayout(point);
  if (!layout || !isNumeric(layout.type) || isFloat(layout.type)) return null;
  return layout.scale ? Math.abs(toUnits(1, layout.scale) - toUnits(0, layout.scale)) : 1;
}

function boundsOf(point: Point): Bounds {
  const layout = pointLayout(point);
  if (!layout) return { low: 0, high: 1, known: true };
  if (isFloat(layout.type)) return { low: -Infinity, high: Infinity, known: false };
  return { ...held(layout, pointWidth(point)), known: true };
}

/** What the destination holds, in its units: the whole of its type, or of the bits that a route puts its value into. */
export function roomOf(destination: Point, transforms: readonly Transform[]): { low: number; high: number } {
  const layout = pointLayout(destination);
  const part = bitsOfDestination(transforms);
  if (!layout) return { low: 0, high: 1 };
  if (part) return { low: 0, high: 2 ** part.count - 1 };
  return held(layout, pointWidth(destination));
}

/** What registers in this layout hold, in units; bits as one whole number. */
function held({ type, scale }: Layout, width: number): { low: number; high: number } {
  if (!isNumeric(type)) return { low: 0, high: 2 ** (16 * width) - 1 };
  const { low, high } = rangeOf(type);
  if (!scale) return { low, high };
  const ends = [toUnits(low, scale), toUnits(high, scale)];
  return { low: Math.min(...ends), high: Math.max(...ends) };
}
