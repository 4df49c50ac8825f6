import { isBitTable, type Table } from '../address/index.js';
import type { PlayedPoint } from '../behaviours/index.js';
import { pointWidth } from '../model/index.js';
import { carryOf, type PointVariable } from '../playing/index.js';
import { toUnits } from '../value/index.js';

/** What registers, or bits as 0 and 1, were seen to hold from an offset on; `atMs` is null where nobody knows when. */
export interface Observed {
  table: Table;
  offset: number;
  atMs: number | null;
  values: readonly number[];
  /** A master has written it. */
  told?: boolean;
}

/** A number that was seen, in the units of its point, and when, in s since the first. */
export interface Seen {
  atS: number;
  units: number;
}

/** What one point was seen to hold, in the order of time. */
export interface History {
  variable: PointVariable<PlayedPoint>;
  /** As a program holds them; the first is what it begins with. */
  values: readonly unknown[];
  /** The same as numbers in units; empty where they are none, or nobody knows when they were. */
  seen: readonly Seen[];
  /** A master has written it, so it does not move by itself. */
  told: boolean;
}

/** What was seen of each of these variables; those of which nothing was are left out. */
export function historiesOf(variables: readonly PointVariable<PlayedPoint>[], observed: readonly Observed[]): History[] {
  const sorted = [...observed].sort((a, b) => (a.atMs ?? 0) - (b.atMs ?? 0));
  const fromMs = sorted[0]?.atMs ?? 0;
  return variables.flatMap((variable) => {
    const { point } = variable;
    const carry = carryOf(point);
    const [values, seen]: [unknown[], Seen[]] = [[], []];
    let isTold = false;
    for (const { table, offset, atMs, values: held, told } of sorted) {
      const from = point.offset - offset;
      if (table !== point.table || from < 0 || from + pointWidth(point) > held.length) continue;
      const value = carry.toProgram(asWords(table, held.slice(from, from + pointWidth(point))));
      if (value === null) continue;
      isTold ||= told ?? false;
      values.push(value);
      const units = unitsOf(value, point);
      if (atMs !== null && units !== null) seen.push({ atS: (atMs - fromMs) / 1000, units });
    }
    return values.length ? [{ variable, values, seen, told: isTold }] : [];
  });
}

function asWords(table: Table, held: readonly number[]): readonly number[] {
  return isBitTable(table) ? held.map((value) => Number(value !== 0)) : held;
}

function unitsOf(value: unknown, { scale }: PlayedPoint): number | null {
  if (typeof value === 'string') return null;
  const raw = Number(value);
  if (!Number.isFinite(raw)) return null;
  return scale ? toUnits(raw, scale) : raw;
}
