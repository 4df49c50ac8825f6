import { Pattern, valueAt } from './index.js';

describe('a value that moves by itself', () => {
  const like = { low: 10, high: 20, periodMs: 1000, everyMs: 100, forMs: 5000 };
  const at = (kind: Pattern['kind'], ...times: number[]) => times.map((ms) => Math.round(valueAt({ kind, ...like }, ms) * 100) / 100);

  it('follows its kind from one beginning to the next', () => {
    expect(at('toggle', 0, 499, 500, 1000)).toEqual([0, 0, 1, 0]);
    expect(at('step', 0, 500, 1000)).toEqual([10, 20, 10]);
    expect(at('ramp', 0, 500, 990, 1000)).toEqual([10, 15, 19.9, 10]);
    expect(at('sine', 0, 250, 500, 750)).toEqual([15, 20, 15, 10]);
    expect(at('count', 0, 100, 199, 1000, 1100)).toEqual([10, 11, 11, 20, 10]);
  });

  it('stays within its ends, whatever the time', () => {
    for (const kind of ['step', 'ramp', 'sine', 'count'] as const)
      for (let ms = 0; ms < 3000; ms += 37)
        expect(valueAt({ kind, ...like }, ms))
          .withContext(`${kind} ${ms}`)
          .toBeGreaterThanOrEqual(10);
  });

  it('is refused where its ends are exchanged', () => {
    expect(Pattern.safeParse({ kind: 'ramp', ...like, high: 5 }).error?.issues[0]?.path).toEqual(['high']);
  });
});
