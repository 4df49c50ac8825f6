import type { Behaviour, Lines } from '../behaviours/index.js';
import type { History } from './history.js';

/** The lines by which a point moves as it was seen to: those of a ready-made behaviour, or lines of their own. */
export type Moves =
  | { by: 'behaviour'; behaviour: Behaviour; said: Readonly<Record<string, string | number>> }
  | { by: 'lines'; write(own: (name: string) => string): Lines };

/** How a point was seen to move. */
export interface Found {
  /** As it goes on after the name of the point: `counts, by 4 a second`. */
  says: string;
  moves: Moves;
  /** It begins with the value that was seen first. */
  begins: boolean;
  /** The variable that tells it where to go. */
  toldBy?: string;
}

/** One way in which points move, and how it is told from others. */
export interface Movement {
  id: string;
  /** Null where this point does not move so. `all` are those of the same device. */
  find(history: History, all: readonly History[]): Found | null;
}

/** From the first to the last that was seen, s. */
export function lastedS({ seen }: Pick<History, 'seen'>): number {
  return seen.length > 1 ? seen.at(-1)!.atS - seen[0]!.atS : 0;
}

/** From the least to the most that was seen, in units. */
export function rangeOf({ seen }: Pick<History, 'seen'>): { low: number; high: number } {
  const units = seen.map((one) => one.units);
  return { low: Math.min(...units), high: Math.max(...units) };
}

/** By how much it moved from each to the next. */
export function stepsOf({ seen }: Pick<History, 'seen'>): number[] {
  return seen.slice(1).map(({ units }, index) => units - seen[index]!.units);
}

/** `41.2`, `0.083`: three figures are enough to tell it. */
export function figure(value: number): string {
  return String(Number(value.toPrecision(3)));
}
