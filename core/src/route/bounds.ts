import { type Point, pointLayout, pointWidth, type Transform } from '../model/index.js';
import { type Layout, toUnits } from '../value/index.js';
import type { Chain } from './carry.js';
import { castRanges } from './steps.js';
import { rangeOf, isText, isNumeric, isFloat } from '../types/index.js';

/** What a value can be somewhere in a chain. `known` is false where only its type limits it, as for floats and formulas. */
interface Bounds {
  low: number;
  high: number;
  known: boolean;
}

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
  const arriving = transforms.reduce(through, boundsOf(source));
  const room = roomOf(destination, transforms);
  const found: Overflow[] = [];
  if (arriving.high > room.high)
    found.push({ side: 'above', limit: room.high, atSource: backToSource(room.high, transforms), isCertain: arriving.known });
  if (arriving.low < room.low)
    found.push({ side: 'below', limit: room.low, atSource: backToSource(room.low, transforms), isCertain: arriving.known });
  return found;
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
  const part = transforms.find((step) => step.kind === 'insert');
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

function through(bounds: Bounds, step: Transform): Bounds {
  const { low, high } = bounds;
  switch (step.kind) {
    case 'scale': {
      const ends = [low * step.factor + step.offset, high * step.factor + step.offset];
      return { ...bounds, low: Math.min(...ends), high: Math.max(...ends) };
    }
    case 'clamp':
      return {
        ...bounds,
        low: Math.max(step.low, Math.min(step.high, low)),
        high: Math.min(step.high, Math.max(step.low, high)),
        known: true,
      };
    case 'cast':
      return { ...castRanges[step.type], known: true };
    case 'extract':
    case 'invert':
      return { low: 0, high: 2 ** step.count - 1, known: true };
    case 'codes': {
      const codes = [...step.pairs.map(({ to }) => to), ...(step.otherwise === null ? [] : [step.otherwise])];
      return { low: Math.min(...codes), high: Math.max(...codes), known: true };
    }
    case 'constant':
      return { low: step.value, high: step.value, known: true };
    case 'beat':
      return { low: 0, high: { toggle: 1, counter: 65_535, clock: 3599 }[step.pattern], known: true };
    case 'join':
      return { low: 0, high: Math.max(2 ** (step.at + step.count) - 1, low < 0 ? 2 ** 32 - 1 : high), known: true };
    case 'select':
      if (step.otherwiseId) return { low: -Infinity, high: Infinity, known: false };
      return { ...bounds, low: Math.min(low, step.otherwise), high: Math.max(high, step.otherwise) };
    case 'arithmetic':
      return { low: -Infinity, high: Infinity, known: false };
    default:
      return bounds;
  }
}

/** The value at the source that arrives as this one; only steps that keep the order can be followed back. */
function backToSource(limit: number, transforms: readonly Transform[]): number | null {
  let value = limit;
  for (const step of [...transforms].reverse()) {
    if (step.kind === 'scale') value = (value - step.offset) / step.factor;
    else if (!['round', 'clamp', 'deadband', 'rate'].includes(step.kind)) return null;
  }
  return Number(value.toPrecision(12));
}
