import { bad, good, type Outcome } from '../outcome/index.js';

/** A value that needs a place among registers: so many of them, or one bit of one. `at` where it has one already, which it keeps. */
export interface ToPlace {
  id: string;
  words: number;
  isBit: boolean;
  at: { offset: number; bit: number | null } | null;
}

/** A stretch of registers in which values may be placed. */
export interface Room {
  first: number;
  count: number;
}

export interface PlacingRules {
  rooms: readonly Room[];
  /** Registers that one request carries at most. */
  most: number;
  /** Whether registers between two values may be read along. */
  crossesHoles: boolean;
  /** Values of two registers and more begin where this is true. */
  isAligned(offset: number): boolean;
}

export type PlacedAt = NonNullable<ToPlace['at']>;

/** Up to so many steps the best arrangement is looked for; past that each value goes where it is best by itself. */
const STEPS = 20_000;
const BITS = 16;

interface Extent {
  offset: number;
  words: number;
}

/** What an arrangement costs: requests first, then the registers from its first to its last, then how far back it lies. */
type Cost = readonly [requests: number, span: number, sum: number];

/**
 * Gives each value that has no place one, so that as few requests as possible carry all of them; what has a place keeps it. Bits go
 * into registers in which bits are already. A value for which there is no room is a problem that names it.
 */
export function placeAll(items: readonly ToPlace[], rules: PlacingRules): Outcome<Map<string, PlacedAt>> {
  const placed = new Map<string, PlacedAt>(items.flatMap(({ id, at }) => (at ? [[id, at]] : [])));
  const taken = extentsOf(items);
  const news = items.filter(({ at }) => at === null);
  const bits = bitsInUse(items, rules.rooms);
  const loose = news.filter(({ isBit }) => isBit).filter(({ id }) => !intoUsedWord(id, bits, placed));
  const wide = news.filter(({ isBit }) => !isBit).map(({ id, words }) => ({ ids: [id], words, isBits: false }));
  const packed = Array.from({ length: Math.ceil(loose.length / BITS) }, (_, index) => ({
    ids: loose.slice(index * BITS, (index + 1) * BITS).map(({ id }) => id),
    words: 1,
    isBits: true,
  }));
  const blocks = [...wide, ...packed].sort((a, b) => b.words - a.words || (a.ids[0]! < b.ids[0]! ? -1 : 1));
  const offsets = arrange(
    blocks.map(({ words }) => words),
    taken,
    rules,
  );
  if (typeof offsets === 'number') {
    const none = blocks[offsets]!;
    return bad(`There is no room for ${none.words === 1 ? 'one register' : `${none.words} registers`} in a row.`, 'items', none.ids[0]!);
  }
  blocks.forEach(({ ids, isBits }, index) =>
    ids.forEach((id, bit) => placed.set(id, { offset: offsets[index]!, bit: isBits ? bit : null })),
  );
  return good(placed);
}

function extentsOf(items: readonly ToPlace[]): Extent[] {
  const words = new Set<string>();
  return items.flatMap(({ at, words: count, isBit }) => {
    if (!at) return [];
    if (!isBit) return [{ offset: at.offset, words: count }];
    const key = String(at.offset);
    if (words.has(key)) return [];
    words.add(key);
    return [{ offset: at.offset, words: 1 }];
  });
}

/** The registers in these rooms that hold single bits, and which of theirs are taken. */
function bitsInUse(items: readonly ToPlace[], rooms: readonly Room[]): Map<number, Set<number>> {
  const isInside = (offset: number) => rooms.some(({ first, count }) => offset >= first && offset < first + count);
  const found = new Map<number, Set<number>>();
  for (const { at, isBit } of items)
    if (isBit && at?.bit != null && isInside(at.offset)) found.set(at.offset, (found.get(at.offset) ?? new Set()).add(at.bit));
  const whole = items.filter(({ isBit, at }) => !isBit && at);
  for (const offset of [...found.keys()])
    if (whole.some(({ at, words }) => at!.offset <= offset && offset < at!.offset + words)) found.delete(offset);
  return found;
}

function intoUsedWord(id: string, used: Map<number, Set<number>>, placed: Map<string, PlacedAt>): boolean {
  for (const [offset, bits] of [...used].sort(([a], [b]) => a - b)) {
    const bit = Array.from({ length: BITS }, (_, at) => at).find((at) => !bits.has(at));
    if (bit === undefined) continue;
    bits.add(bit);
    placed.set(id, { offset, bit });
    return true;
  }
  return false;
}

/** Room that is left at an end of a free stretch: none, or for one register. */
const ENDS = [0, 1];

/** Where each block goes, the widest first; the index of one for which there is no room. */
function arrange(widths: readonly number[], taken: readonly Extent[], rules: PlacingRules): number[] | number {
  const greedy = oneByOne(widths, taken, rules);
  if (typeof greedy === 'number') return greedy;
  let best = { offsets: greedy, cost: costOf(withOffsets(widths, greedy, taken), rules) };
  const search = (gaps: readonly number[], isBetter: (cost: Cost) => boolean) => {
    let steps = 0;
    const chosen: number[] = [];
    const visit = (extents: readonly Extent[]): void => {
      if (chosen.length === widths.length) {
        const cost = costOf(extents, rules);
        if (isBetter(cost)) best = { offsets: [...chosen], cost };
        return;
      }
      const words = widths[chosen.length]!;
      for (const offset of candidates(words, extents, rules, gaps)) {
        if (++steps > STEPS) return;
        chosen.push(offset);
        visit([...extents, { offset, words }]);
        chosen.pop();
      }
    };
    visit(taken);
  };
  search(ENDS, (cost) => isLess(cost, best.cost));
  // One that leaves room for others beside it may save a request; for nothing less are values torn apart.
  const words = widths.reduce((sum, width) => sum + width, 0) + taken.reduce((sum, { words: count }) => sum + count, 0);
  if (best.cost[0] > Math.ceil(words / rules.most)) search([...new Set([...ENDS, ...widths])], ([requests]) => requests < best.cost[0]);
  return best.offsets;
}

function oneByOne(widths: readonly number[], taken: readonly Extent[], rules: PlacingRules): number[] | number {
  const offsets: number[] = [];
  for (const [index, words] of widths.entries()) {
    const extents = withOffsets(widths, offsets, taken);
    let best: { offset: number; cost: Cost } | null = null;
    for (const offset of candidates(words, extents, rules, ENDS)) {
      const cost = costOf([...extents, { offset, words }], rules);
      if (!best || isLess(cost, best.cost)) best = { offset, cost };
    }
    if (!best) return index;
    offsets.push(best.offset);
  }
  return offsets;
}

function withOffsets(widths: readonly number[], offsets: readonly number[], taken: readonly Extent[]): Extent[] {
  return [...taken, ...offsets.map((offset, index) => ({ offset, words: widths[index]! }))];
}

/** Both ends of every free stretch that is long enough, with room left there for so many registers. */
function candidates(words: number, extents: readonly Extent[], { rooms, isAligned }: PlacingRules, gaps: readonly number[]): number[] {
  const sorted = [...extents].sort((a, b) => a.offset - b.offset);
  const found = new Set<number>();
  for (const { first, count } of rooms) {
    let from = first;
    const consider = (to: number) => {
      const fits = (offset: number) => offset >= from && offset + words <= to && (words === 1 || isAligned(offset));
      for (const gap of gaps) for (const offset of [from + gap, to - words - gap]) if (fits(offset)) found.add(offset);
    };
    for (const extent of sorted) {
      if (extent.offset + extent.words <= from || extent.offset >= first + count) continue;
      consider(Math.max(from, extent.offset));
      from = Math.max(from, extent.offset + extent.words);
    }
    consider(first + count);
  }
  return [...found].sort((a, b) => a - b);
}

function costOf(extents: readonly Extent[], { most, crossesHoles }: PlacingRules): Cost {
  const sorted = [...extents].sort((a, b) => a.offset - b.offset);
  let requests = 0;
  let [begin, end, last, sum] = [0, -1, -1, 0];
  for (const { offset, words } of sorted) {
    sum += offset;
    const joins = requests > 0 && offset + words - begin <= most && (crossesHoles || offset <= end);
    if (!joins) {
      requests += 1;
      begin = offset;
    }
    end = Math.max(end, offset + words);
    last = end;
  }
  return [requests, sorted.length === 0 ? 0 : last - sorted[0]!.offset, sum];
}

function isLess(a: Cost, b: Cost): boolean {
  const at = a.findIndex((each, index) => each !== b[index]);
  return at >= 0 && a[at]! < b[at]!;
}
