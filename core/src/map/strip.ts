import type { Table } from '../address/index.js';
import { type Forbidden, type Point, pointWidth } from '../model/index.js';

/** A stretch of a table in register order. `count` registers or bits from `offset` on. */
export interface Stretch {
  kind: 'points' | 'overlap' | 'hole' | 'forbidden';
  offset: number;
  count: number;
  /** What lies in it, in offset order. */
  points: Point[];
}

export interface Strip {
  table: Table;
  first: number;
  last: number;
  stretches: Stretch[];
}

/**
 * A table of a device as a strip: what is occupied, what is a hole between, what overlaps. Bits of a register are no overlap
 * with it, nor with each other. Empty where the device has no points in this table.
 */
export function stripOf(table: Table, points: readonly Point[], forbidden: readonly Forbidden[] = []): Strip | null {
  const own = inOrder(points.filter((point) => point.table === table));
  if (own.length === 0) return null;
  const stretches = stretchesOf(
    own,
    forbidden.filter((span) => span.table === table),
  );
  const end = stretches.at(-1)!;
  return { table, first: own[0]!.offset, last: end.offset + end.count - 1, stretches };
}

/** By offset, the shorter first; points that come in order already, as they mostly do, are not sorted again. */
function inOrder(points: Point[]): Point[] {
  const before = (a: Point, b: Point) => a.offset - b.offset || pointWidth(a) - pointWidth(b);
  return points.some((point, index) => index > 0 && before(points[index - 1]!, point) > 0) ? points.sort(before) : points;
}

function stretchesOf(points: readonly Point[], closed: readonly Forbidden[]): Stretch[] {
  const stretches: Stretch[] = [];
  let end = points[0]!.offset;
  let last: Stretch | null = null;
  for (const point of points) {
    const width = pointWidth(point);
    if (point.offset > end) for (const hole of holes(end, point.offset - 1, closed)) stretches.push(hole);
    if (last && point.offset < end) {
      if (last.points.some((other) => collide(other, point))) last.kind = 'overlap';
      last.points.push(point);
      last.count = Math.max(last.count, point.offset + width - last.offset);
    } else {
      last = { kind: 'points', offset: point.offset, count: width, points: [point] };
      stretches.push(last);
    }
    end = Math.max(end, point.offset + width);
  }
  return stretches;
}

/** A bit of its own beside the register that it is in is no overlap, nor are two different bits. */
function collide(one: Point, other: Point): boolean {
  if (one.bit !== null && other.bit !== null) return one.bit === other.bit;
  return one.bit === null && other.bit === null;
}

/** The gap from `first` to `last`, cut where a part of it is refused by the device. */
function holes(first: number, last: number, closed: readonly Forbidden[]): Stretch[] {
  const inside = closed.filter((span) => span.first <= last && span.last >= first).sort((a, b) => a.first - b.first);
  const found: Stretch[] = [];
  const add = (kind: 'hole' | 'forbidden', from: number, to: number) => {
    if (to >= from) found.push({ kind, offset: from, count: to - from + 1, points: [] });
  };
  let at = first;
  for (const span of inside) {
    add('hole', at, span.first - 1);
    add('forbidden', Math.max(at, span.first), Math.min(last, span.last));
    at = Math.max(at, span.last + 1);
  }
  add('hole', at, last);
  return found;
}
