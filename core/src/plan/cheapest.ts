/** Something that takes `width` registers or bits from `offset` on. */
export interface Extent {
  offset: number;
  width: number;
}

/** Extents that one request carries: `count` registers or bits from `offset` on. */
export interface Run<T> {
  offset: number;
  count: number;
  members: T[];
}

/** What a request may be, and what it costs: `perRequest` for itself and `perUnit` for each register or bit in it. */
export interface RunRules {
  /** Registers or bits that one request carries at most; no extent is wider. */
  most: number;
  perRequest: number;
  perUnit: number;
  /** Whether the registers from `first` to `last`, which nobody named, may be crossed. */
  mayCross(first: number, last: number): boolean;
}

/** The cheapest way to carry the first so many extents: what it costs, in how many requests, and where the last one starts. */
interface Best {
  cost: number;
  requests: number;
  from: number;
}

/** Costs are sums of many small figures; what differs by less is the same. */
const SAME = 1e-9;

/**
 * The cheapest set of runs that carries every extent whole; of equally cheap ones the one with the fewest runs. Extents may
 * overlap. With n extents it takes n log n steps: once those that lie inside another are put aside, starts and ends rise
 * together, each run carries neighbours only, and the best start for each end is the least of a window that moves on.
 *
 * `[{ offset: 0, width: 1 }, { offset: 2, width: 1 }]` is one run of 3 where a request costs more than the register between.
 */
export function cheapestRuns<T extends Extent>(extents: readonly T[], rules: RunRules): Run<T>[] {
  const { outer, inside } = putAside(extents);
  if (outer.length === 0) return [];
  const best = bestStarts(outer, rules);
  const runs: Run<T>[] = [];
  for (let until = outer.length; until > 0; until = best[until]!.from) {
    const { from } = best[until]!;
    const { offset } = outer[from]!;
    const members = outer.slice(from, until).flatMap((extent) => [extent, ...(inside.get(extent) ?? [])]);
    runs.push({ offset, count: endOf(outer[until - 1]!) - offset, members });
  }
  return runs.reverse();
}

/** Whether two extents have a register or bit in common. */
export function overlaps(a: Extent, b: Extent): boolean {
  return a.offset < endOf(b) && b.offset < endOf(a);
}

function endOf({ offset, width }: Extent): number {
  return offset + width;
}

/** In order of start and end alike, without those that lie wholly inside another; those follow the one that carries them. */
function putAside<T extends Extent>(extents: readonly T[]): { outer: T[]; inside: Map<T, T[]> } {
  const outer: T[] = [];
  const inside = new Map<T, T[]>();
  for (const extent of [...extents].sort((a, b) => a.offset - b.offset || b.width - a.width)) {
    const last = outer.at(-1);
    if (!last || endOf(extent) > endOf(last)) {
      outer.push(extent);
      continue;
    }
    const known = inside.get(last);
    if (known) known.push(extent);
    else inside.set(last, [extent]);
  }
  return { outer, inside };
}

/** For each number of extents carried, the cheapest way. `window` keeps the starts that may still be best, the best first. */
function bestStarts(outer: readonly Extent[], { most, perRequest, perUnit, mayCross }: RunRules): Best[] {
  const best: Best[] = [{ cost: 0, requests: 0, from: 0 }];
  let window: number[] = [];
  let head = 0;
  const upTo = (start: number) => best[start]!.cost - perUnit * outer[start]!.offset;
  const isNoWorse = (a: number, b: number) => {
    const difference = upTo(a) - upTo(b);
    return Math.abs(difference) <= SAME ? best[a]!.requests <= best[b]!.requests : difference < 0;
  };
  for (let index = 0; index < outer.length; index++) {
    const before = outer[index - 1];
    const { offset } = outer[index]!;
    if (before && offset > endOf(before) && !mayCross(endOf(before), offset - 1)) {
      window = [];
      head = 0;
    }
    while (window.length > head && isNoWorse(index, window.at(-1)!)) window.pop();
    window.push(index);
    const end = endOf(outer[index]!);
    while (end - outer[window[head]!]!.offset > most) head += 1;
    const from = window[head]!;
    best.push({ cost: upTo(from) + perRequest + perUnit * end, requests: best[from]!.requests + 1, from });
  }
  return best;
}
