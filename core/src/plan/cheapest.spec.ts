import { cheapestRuns, type Extent, overlaps, type RunRules } from './cheapest.js';

const rules: RunRules = { most: 10, perRequest: 4, perUnit: 1, mayCross: () => true };
const runs = (extents: Extent[], other: Partial<RunRules> = {}) =>
  cheapestRuns(extents, { ...rules, ...other }).map(({ offset, count, members }) => `${offset}+${count}: ${members.map(text).join(' ')}`);
const text = ({ offset, width }: Extent) => `${offset}/${width}`;
const at = (...offsets: number[]) => offsets.map((offset) => ({ offset, width: 1 }));

describe('the cheapest runs', () => {
  it('are none for nothing, and one for one', () => {
    expect(runs([])).toEqual([]);
    expect(runs(at(7))).toEqual(['7+1: 7/1']);
  });

  it('cross a hole that costs less than a request, or as much, for then there is one request fewer', () => {
    expect(runs(at(0, 4))).toEqual(['0+5: 0/1 4/1']);
    expect(runs(at(0, 5))).toEqual(['0+6: 0/1 5/1']);
    expect(runs(at(0, 6))).toEqual(['0+1: 0/1', '6+1: 6/1']);
  });

  it('carry as much as one request may, and no more', () => {
    expect(runs(at(...Array.from({ length: 10 }, (_, index) => index)))).toEqual(['0+10: 0/1 1/1 2/1 3/1 4/1 5/1 6/1 7/1 8/1 9/1']);
    expect(runs(at(...Array.from({ length: 11 }, (_, index) => index))).length).toBe(2);
    expect(
      runs([
        { offset: 0, width: 10 },
        { offset: 10, width: 1 },
      ]),
    ).toEqual(['0+10: 0/10', '10+1: 10/1']);
  });

  it('break where the most is, at the hole that is worth it', () => {
    expect(runs([...at(0, 1), ...at(8, 9, 10, 11)])).toEqual(['0+2: 0/1 1/1', '8+4: 8/1 9/1 10/1 11/1']);
    expect(runs(at(0, 3, 9, 12), { perRequest: 100 })).toEqual(['0+4: 0/1 3/1', '9+4: 9/1 12/1']);
  });

  it('ask what may be crossed for exactly what lies between, and only where something does', () => {
    const asked: string[] = [];
    const mayCross = (first: number, last: number) => {
      asked.push(`${first}-${last}`);
      return first !== 4;
    };
    const extents = [{ offset: 0, width: 2 }, { offset: 2, width: 2 }, ...at(5), { offset: 5, width: 3 }, ...at(9)];
    expect(runs(extents, { mayCross, perRequest: 100 })).toEqual(['0+4: 0/2 2/2', '5+5: 5/3 5/1 9/1']);
    expect(asked).toEqual(['4-4', '8-8']);
  });

  it('keep what lies inside another with the one that carries it, in any order given', () => {
    const extents = [...at(3), { offset: 0, width: 6 }, { offset: 4, width: 4 }, ...at(5), { offset: 0, width: 2 }];
    expect(runs(extents)).toEqual(['0+8: 0/6 0/2 3/1 4/4 5/1']);
  });

  it('cost nothing to cross where registers cost nothing', () => {
    expect(runs(at(0, 9), { perUnit: 0 })).toEqual(['0+10: 0/1 9/1']);
    expect(runs(at(0, 9), { perRequest: 0 })).toEqual(['0+1: 0/1', '9+1: 9/1']);
  });
});

describe('two stretches', () => {
  it('overlap where they have a register in common', () => {
    const of = (a: [number, number], b: [number, number]) =>
      overlaps({ offset: a[0], width: a[1] }, { offset: b[0], width: b[1] }) &&
      overlaps({ offset: b[0], width: b[1] }, { offset: a[0], width: a[1] });
    expect([of([0, 2], [1, 2]), of([0, 3], [1, 1]), of([5, 1], [5, 1])]).toEqual([true, true, true]);
    expect([of([0, 2], [2, 2]), of([0, 1], [9, 1])]).toEqual([false, false]);
  });
});
