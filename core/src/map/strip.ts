import type { Table } from '../address/index.js';
import { type Forbidden, type Point, pointWidth } from '../model/index.js';
import type { PlannedRequest } from '../plan/index.js';

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
  /** What each request of the plan fetches or sets here. */
  requests: { id: string; kind: PlannedRequest['kind']; offset: number; count: number; functionCode: number; periodMs: number }[];
}

/**
 * A table of a device as a strip: what is occupied, what is a hole between, what overlaps. Bits of a register are no overlap
 * with it, nor with each other. Empty where the device has no points in this table.
 */
export function stripOf(
  table: Table,
  points: readonly Point[],
  forbidden: readonly Forbidden[] = [],
  requests: readonly PlannedRequest[] = [],
): Strip | null {
  const own = points.filter((point) => point.table === table).sort((a, b) => a.offset - b.offset || pointWidth(a) - pointWidth(b));
  if (own.length === 0) return null;
  const last = Math.max(...own.map((point) => point.offset + pointWidth(point) - 1));
  const closed = forbidden.filter((span) => span.table === table);
  return {
    table,
    first: own[0]!.offset,
    last,
    stretches: stretchesOf(own, closed),
    requests: requests
      .filter((request) => request.table === table)
      .map(({ id, kind, offset, count, functionCode, periodMs }) => ({ id, kind, offset, count, functionCode, periodMs })),
  };
}

function stretchesOf(points: readonly Point[], closed: readonly Forbidden[]): Stretch[] {
  const stretches: Stretch[] = [];
  let end = points[0]!.offset;
  for (const point of points) {
    const width = pointWidth(point);
    if (point.offset > end) stretches.push(...holes(end, point.offset - 1, closed));
    const before = stretches.at(-1);
    const covered = before?.kind !== 'hole' && before?.kind !== 'forbidden' && point.offset < end ? before : undefined;
    if (covered) {
      if (covered.points.some((other) => collide(other, point))) covered.kind = 'overlap';
      covered.points.push(point);
      covered.count = Math.max(covered.count, point.offset + width - covered.offset);
    } else {
      stretches.push({ kind: 'points', offset: point.offset, count: width, points: [point] });
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
