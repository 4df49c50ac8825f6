import { type Counters, newCounters } from '@plain-envoy/core/feed';
import { Rates } from './rates';

const counters = (answered: number, noAnswer = 0): Counters => ({ ...newCounters('fan'), answered, noAnswer });

describe('Rates', () => {
  it('count every exchange of the last seconds, answered or not', () => {
    const rates = new Rates();
    for (let second = 0; second <= 20; second++) rates.take([counters(second * 4, second)], second * 1000);
    expect(rates.of('fan', 20_000)).toBeCloseTo(5, 6);
    expect(rates.of('nobody', 20_000)).toBe(0);
  });

  it('fade where nothing more comes, and forget what was before a new run', () => {
    const rates = new Rates();
    rates.take([counters(0)], 0);
    expect(rates.of('fan', 0)).toBe(0);
    rates.take([counters(10)], 1000);
    expect(rates.of('fan', 1000)).toBe(10);
    expect(rates.of('fan', 60_000)).toBeLessThan(0.2);
    rates.clear();
    expect(rates.of('fan', 1000)).toBe(0);
  });
});
