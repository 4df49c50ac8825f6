import type { Table } from '../address/index.js';
import { type PointBody, pointWidth } from '../model/index.js';

/** For each table its stretches of registers or bits, from the first to the last offset, both counted. */
export type Extents = Partial<Record<Table, [first: number, last: number][]>>;

/** Offsets that rise, as stretches of those in a row: the first and the last of each. */
export function spansOf(offsets: Iterable<number>): [first: number, last: number][] {
  const spans: [number, number][] = [];
  for (const offset of offsets) {
    const last = spans.at(-1);
    if (last && last[1] === offset - 1) last[1] = offset;
    else spans.push([offset, offset]);
  }
  return spans;
}

/**
 * The registers that a device has by its map: where its points are, and what lies between them where that may be read along with them.
 * Stretches are in order and apart from each other.
 */
export function extentsOf(points: readonly Pick<PointBody, 'table' | 'offset' | 'type' | 'length'>[], readAcrossHoles: boolean): Extents {
  const extents: Extents = {};
  for (const point of [...points].sort((a, b) => a.offset - b.offset)) {
    const [first, last] = [point.offset, point.offset + pointWidth(point) - 1];
    const stretches = (extents[point.table] ??= []);
    const before = stretches.at(-1);
    if (before && (readAcrossHoles || first <= before[1] + 1)) before[1] = Math.max(before[1], last);
    else stretches.push([first, last]);
  }
  return extents;
}
