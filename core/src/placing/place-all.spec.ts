import * as fc from 'fast-check';
import { placeAll, type PlacingRules, type ToPlace } from './place-all.js';

const rules = (changes: Partial<PlacingRules> = {}): PlacingRules => ({
  rooms: [{ first: 0, count: 20 }],
  most: 125,
  crossesHoles: true,
  isAligned: () => true,
  ...changes,
});
const wide = (id: string, words: number, offset: number | null = null): ToPlace => ({
  ...{ id, words, isBit: false },
  at: offset === null ? null : { offset, bit: null },
});
const bit = (id: string, at: ToPlace['at'] = null): ToPlace => ({ id, words: 1, isBit: true, at });
const placed = (items: readonly ToPlace[], given = rules()) => {
  const found = placeAll(items, given);
  return found.ok
    ? Object.fromEntries([...found.value].map(([id, { offset, bit: at }]) => [id, at === null ? offset : `${offset}.${at}`]))
    : found.problem.message;
};

describe('Placing values in the image of a converter', () => {
  it('puts them side by side from the beginning, and bits into one register', () => {
    expect(placed([wide('a', 1), wide('b', 2), bit('c'), bit('d')])).toEqual({ a: 0, b: 1, c: '3.0', d: '3.1' });
  });

  it('moves nothing that has a place, and fills what lies next to it', () => {
    expect(placed([wide('a', 2, 10), wide('b', 1)])).toEqual({ a: 10, b: 9 });
    expect(placed([bit('a', { offset: 4, bit: 0 }), bit('b')])).toEqual({ a: '4.0', b: '4.1' });
    expect(placed([bit('a', { offset: 40, bit: 0 }), bit('b')]))
      .withContext('bits of another room')
      .toEqual({ a: '40.0', b: '19.0' });
    expect(placed([wide('a', 1, 0), wide('b', 2)], rules({ isAligned: (offset) => offset % 2 === 0 }))).toEqual({ a: 0, b: 2 });
  });

  it('leaves room on both sides of one value for others that join what is there', () => {
    const items = [wide('a', 2, 0), wide('b', 2, 12), wide('c', 3), wide('d', 2), wide('e', 2)];
    const given = rules({ rooms: [{ first: 0, count: 14 }], most: 4 });
    const { c, ...others } = placed(items, given) as Record<string, number>;
    expect(others).toEqual({ a: 0, b: 12, d: 2, e: 10 });
    expect([c! >= 4, c! <= 7]).toEqual([true, true]);
  });

  it('says which value has no room', () => {
    expect(placed([wide('a', 19, 0), wide('b', 2)])).toBe('There is no room for 2 registers in a row.');
    expect(placed([wide('a', 1)], rules({ rooms: [] }))).toBe('There is no room for one register in a row.');
  });

  it('never overlaps, keeps what is fixed, and needs no more requests than the best of all arrangements', () => {
    const width = fc.integer({ min: 1, max: 3 });
    const fixed = fc.uniqueArray(fc.integer({ min: 0, max: 3 }), { maxLength: 2 });
    fc.assert(
      fc.property(
        fixed,
        fc.array(width, { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 3, max: 8 }),
        fc.boolean(),
        (blocks, widths, most, crossesHoles) => {
          const given = rules({ rooms: [{ first: 0, count: 14 }], most, crossesHoles });
          const old = blocks.map((block, index) => wide(`old ${index}`, 2, block * 4));
          const items = [...old, ...widths.map((words, index) => wide(`new ${index}`, words))];
          const found = placeAll(items, given);
          if (!found.ok) return;
          const extents = items.map(({ id, words }) => [found.value.get(id)!.offset, words] as const);
          for (const { id, at } of old) expect(found.value.get(id)).toEqual(at!);
          for (const [index, [offset, words]] of extents.entries())
            for (const [other, count] of extents.slice(index + 1)) expect(offset + words <= other || other + count <= offset).toBeTrue();
          expect(requests(extents, given)).toBe(
            fewest(
              old.map(({ at }) => [at!.offset, 2] as const),
              widths,
              given,
            ),
          );
        },
      ),
      { numRuns: 150 },
    );
  });
});

type Extent = readonly [offset: number, words: number];

/** Requests by trying every way to cut the row of values. */
function requests(extents: readonly Extent[], { most, crossesHoles }: PlacingRules): number {
  const sorted = [...extents].sort(([a], [b]) => a - b);
  const best = [0];
  for (let to = 1; to <= sorted.length; to++) {
    best[to] = Infinity;
    for (let from = 0; from < to; from++) {
      const part = sorted.slice(from, to);
      const isClose = part.every(([offset], index) => index === 0 || offset === part[index - 1]![0] + part[index - 1]![1]);
      const last = part.at(-1)!;
      if (last[0] + last[1] - part[0]![0] <= most && (crossesHoles || isClose)) best[to] = Math.min(best[to]!, best[from]! + 1);
    }
  }
  return best[sorted.length]!;
}

/** The fewest requests of all places that there are. */
function fewest(extents: readonly Extent[], widths: readonly number[], given: PlacingRules): number {
  const [words, ...others] = widths;
  if (words === undefined) return requests(extents, given);
  let best = Infinity;
  for (let offset = 0; offset + words <= 14; offset++) {
    if (extents.some(([other, count]) => offset < other + count && other < offset + words)) continue;
    best = Math.min(best, fewest([...extents, [offset, words]], others, given));
  }
  return best;
}
