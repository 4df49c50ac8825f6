import type { Point } from '../model/index.js';
import { type Verdict, verdictOn, wantedWords } from './verdict.js';

/** What a setting is on each side: as designed, and as one or two readings of a device have it; null where that is not known. */
export interface Sides {
  wanted: readonly number[] | null;
  first: readonly number[] | null;
  second: readonly number[] | null;
}
export type Side = keyof Sides;

/** A setting with its sides. `problem`: why what is wanted cannot be held. */
export interface SideBySide {
  point: Point;
  sides: Sides;
  verdict: Verdict;
  problem: string | null;
}

/** Lays settings side by side. They differ where any two sides that are known do. */
export function sideBySide(
  points: readonly Point[],
  first: ReadonlyMap<string, readonly number[]>,
  second: ReadonlyMap<string, readonly number[]>,
): SideBySide[] {
  return points.map((point) => {
    const wanted = wantedWords(point);
    const sides = {
      wanted: wanted.ok ? wanted.value : null,
      first: first.get(point.id) ?? null,
      second: second.get(point.id) ?? null,
    };
    return { point, sides, verdict: verdictAmong(point, Object.values(sides)), problem: wanted.ok ? null : wanted.problem.message };
  });
}

function verdictAmong(point: Point, all: readonly (readonly number[] | null)[]): Verdict {
  const [one, ...others] = all.filter((words) => words !== null);
  if (!one || others.length === 0) return 'unknown';
  return others.every((other) => verdictOn(point, one, other) === 'same') ? 'same' : 'differs';
}

/** The values that a side has of these settings, for those that are chosen to be as this side is. */
export function winningWords(rows: readonly SideBySide[], wins: ReadonlyMap<string, Side>): Map<string, number[]> {
  return new Map(
    rows.flatMap(({ point, sides }): [string, number[]][] => {
      const side = wins.get(point.id);
      const words = side && sides[side];
      return words ? [[point.id, [...words]]] : [];
    }),
  );
}
