import fc from 'fast-check';
import { planPoints, type PointToCarry, type RequestCost, type RequestLimits, standardCost, standardLimits } from './index.js';

/** The least cost there is, found by trying every request that could carry the first point still to be carried. */
function leastCost(points: readonly PointToCarry[], limits: RequestLimits, { perRequest, perWord }: RequestCost): number {
  const named = (at: number) => points.some(({ offset, length }) => at >= offset && at < offset + length);
  const closed = (at: number) => limits.forbidden.some(({ first, last }) => at >= first && at <= last);
  const isAllowed = (first: number, last: number) => {
    if (last - first + 1 > limits.maxReadWords) return false;
    for (let at = first; at <= last; at++) if (!named(at) && (!limits.readAcrossHoles || closed(at))) return false;
    return true;
  };
  const end = Math.max(...points.map(({ offset, length }) => offset + length - 1));
  const known = new Map<number, number>();
  const search = (carried: number): number => {
    const next = points.findIndex((_, index) => !(carried & (1 << index)));
    if (next < 0) return 0;
    const before = known.get(carried);
    if (before !== undefined) return before;
    let least = Infinity;
    for (let first = 0; first <= points[next]!.offset; first++) {
      for (let last = points[next]!.offset + points[next]!.length - 1; last <= end; last++) {
        if (!isAllowed(first, last)) continue;
        const also = points.reduce(
          (set, { offset, length }, index) => (offset >= first && offset + length - 1 <= last ? set | (1 << index) : set),
          carried,
        );
        least = Math.min(least, perRequest + perWord * (last - first + 1) + search(also));
      }
    }
    known.set(carried, least);
    return least;
  };
  return search(0);
}

const holding = (id: string, offset: number, length: number, write = false): PointToCarry => ({
  id,
  table: 'holding',
  offset,
  length,
  write,
});
const planned = (points: PointToCarry[], limits: Partial<RequestLimits> = {}, cost: Partial<RequestCost> = {}) => {
  const outcome = planPoints(points, { ...standardLimits, ...limits }, { ...standardCost, ...cost });
  if (!outcome.ok) throw new Error(outcome.problem.message);
  return outcome.value.requests.map(({ functionCode, offset, count, points: carried }) => ({
    text: `f${functionCode} ${offset}+${count}`,
    ids: carried.map(({ id }) => id).join(' '),
  }));
};
const texts = (...given: Parameters<typeof planned>) => planned(...given).map(({ text }) => text);
const problemOf = (points: PointToCarry[], limits: Partial<RequestLimits> = {}) => {
  const outcome = planPoints(points, { ...standardLimits, ...limits });
  return outcome.ok ? null : outcome.problem.message;
};

describe('planPoints', () => {
  it('costs as little as the best of all sets of requests, in 2000 random cases', () => {
    const cases = fc.record({
      points: fc.array(fc.record({ offset: fc.integer({ min: 0, max: 13 }), length: fc.integer({ min: 1, max: 3 }) }), {
        minLength: 1,
        maxLength: 7,
      }),
      most: fc.integer({ min: 3, max: 9 }),
      across: fc.boolean(),
      closed: fc.array(fc.integer({ min: 0, max: 15 }), { maxLength: 2 }),
      perRequest: fc.constantFrom(0, 0.02, 1, 3),
      perWord: fc.constantFrom(0, 0.01, 0.5, 1),
    });
    fc.assert(
      fc.property(cases, ({ points, most, across, closed, perRequest, perWord }) => {
        const all = points.map(({ offset, length }, index) => holding(String(index), offset, length));
        const forbidden = closed.map((at) => ({ table: 'holding' as const, first: at, last: at + 1 }));
        const limits = { ...standardLimits, maxReadWords: most, readAcrossHoles: across, forbidden };
        const cost = { perRequest, perWord, perBit: 0 };
        const outcome = planPoints(all, limits, cost);
        if (!outcome.ok) throw new Error(outcome.problem.message);
        const { requests } = outcome.value;
        expect(outcome.value.cost).toBeCloseTo(leastCost(all, limits, cost), 9);
        expect(requests.flatMap((request) => request.points.map(({ id }) => id)).sort()).toEqual(all.map(({ id }) => id).sort());
        for (const request of requests) {
          expect(request.count).toBeLessThanOrEqual(most);
          for (const { offset, length } of request.points)
            expect(offset >= request.offset && offset + length <= request.offset + request.count).toBeTrue();
        }
      }),
      { numRuns: 2000 },
    );
  });

  it('crosses a hole where that is cheaper and allowed, and only there', () => {
    const points = [holding('a', 0, 2), holding('b', 40, 1)];
    expect(texts(points)).toEqual(['f3 0+41']);
    expect(texts(points, {}, { perWord: 0.1 })).toEqual(['f3 0+2', 'f3 40+1']);
    expect(texts(points, { readAcrossHoles: false })).toEqual(['f3 0+2', 'f3 40+1']);
    expect(texts(points, { forbidden: [{ table: 'holding', first: 9, last: 9 }] })).toEqual(['f3 0+2', 'f3 40+1']);
    expect(texts(points, { forbidden: [{ table: 'input', first: 9, last: 9 }] })).toEqual(['f3 0+41']);
  });

  it('never splits a point, and puts what overlaps or is inside another into one request', () => {
    expect(texts([holding('a', 0, 100), holding('b', 100, 40)])).toEqual(['f3 0+100', 'f3 100+40']);
    expect(planned([holding('whole', 4, 4), holding('half', 6, 2), holding('next', 7, 3)])).toEqual([
      { text: 'f3 4+6', ids: 'whole half next' },
    ]);
  });

  it('writes runs exactly, with the single code where one is enough and the device has it', () => {
    const points = [holding('a', 0, 1, true), holding('b', 2, 1, true), holding('c', 3, 2, true)];
    expect(texts(points)).toEqual(['f6 0+1', 'f16 2+3']);
    expect(texts(points, { functionCodes: [3, 16] })).toEqual(['f16 0+1', 'f16 2+3']);
    expect(texts(points.slice(0, 2), { functionCodes: [3, 6] })).toEqual(['f6 0+1', 'f6 2+1']);
    expect(texts([holding('d', 8, 1, true), holding('e', 9, 1, true)], { functionCodes: [6] })).toEqual(['f6 8+1', 'f6 9+1']);
    expect(texts([{ id: 'coil', table: 'coil', offset: 5, length: 1, write: true }])).toEqual(['f5 5+1']);
    expect(texts([{ id: 'coils', table: 'coil', offset: 5, length: 9, write: true }])).toEqual(['f15 5+9']);
  });

  it('names a point that no request can carry, and says why', () => {
    expect(problemOf([holding('long', 0, 126)])).toBe(
      '“long” cannot be carried: it takes 126 holding registers; one request reads at most 125.',
    );
    expect(problemOf([holding('wide', 0, 2, true)], { functionCodes: [3, 6] })).toContain('does not have function 16');
    expect(problemOf([holding('deaf', 0, 1)], { functionCodes: [4] })).toContain('does not have function 3');
    expect(problemOf([holding('deaf', 0, 1, true)], { functionCodes: [3] })).toContain('neither function 6 nor 16');
    expect(problemOf([{ id: 'in', table: 'input', offset: 0, length: 1, write: true }])).toContain('no function writes input registers');
    expect(problemOf([holding('late', 65_535, 2)])).toContain('would end at offset 65536');
    expect(problemOf([holding('last', 65_534, 2)])).toBeNull();
    expect(problemOf([holding('many', 0, 124, true)])).toContain('takes 124 holding registers; one request writes at most 123.');
    const second = planPoints([holding('a', 0, 1), holding('b', 0, 126)]);
    expect(second.ok ? null : second.problem.path).toEqual(['points', 1]);
    const late = planPoints([holding('a', 0, 1), holding('b', 65_535, 2)]);
    expect(late.ok ? null : late.problem.path).toEqual(['points', 1]);
  });

  it('says what the plan costs, and what one request for each point would', () => {
    const outcome = planPoints([holding('a', 0, 2), holding('b', 2, 2), holding('c', 10, 1, true)]);
    expect(outcome.ok && [outcome.value.cost, outcome.value.costUnmerged]).toEqual([2.05, 3.05]);
    const bits = planPoints(
      [0, 3].map((offset) => ({ id: `${offset}`, table: 'coil' as const, offset, length: 1 })),
      standardLimits,
      {
        ...standardCost,
        perBit: 0.1,
      },
    );
    expect(bits.ok && [bits.value.cost, bits.value.costUnmerged]).toEqual([1.4, 2.2]);
    expect(planPoints([])).toEqual({ ok: true, value: { requests: [], cost: 0, costUnmerged: 0 } });
  });
});
