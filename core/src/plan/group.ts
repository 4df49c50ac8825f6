/** Something that takes `width` registers or bits from `offset` on. */
export interface Extent {
  offset: number;
  width: number;
}

export interface Run<T> {
  offset: number;
  count: number;
  members: T[];
}

/**
 * Joins what is adjacent (and, for reads, what overlaps) into runs of at most `most`; nothing is ever split.
 * Overlapping extents must not share a write, where one would undo the other: `overlap: 'apart'` keeps them in runs of their own.
 */
export function groupAdjacent<T extends Extent>(extents: readonly T[], most: number, overlap: 'together' | 'apart'): Run<T>[] {
  const runs: Run<T>[] = [];
  const sorted = [...extents].sort((a, b) => a.offset - b.offset || a.width - b.width);
  for (const extent of sorted) {
    const run = runs.findLast((candidate) => joins(candidate, extent, most, overlap));
    if (run) {
      run.count = Math.max(run.count, extent.offset + extent.width - run.offset);
      run.members.push(extent);
    } else {
      runs.push({ offset: extent.offset, count: extent.width, members: [extent] });
    }
  }
  return runs;
}

function joins<T>(run: Run<T>, { offset, width }: Extent, most: number, overlap: 'together' | 'apart'): boolean {
  const end = run.offset + run.count;
  const touches = overlap === 'together' ? offset <= end : offset === end;
  return touches && Math.max(end, offset + width) - run.offset <= most;
}
