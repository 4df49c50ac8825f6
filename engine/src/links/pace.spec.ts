import { VirtualTime } from '../virtual-time.spec-helper.js';
import { until } from './pace.js';

describe('a wait to a fraction of a millisecond', () => {
  let time: VirtualTime;
  beforeEach(() => (time = new VirtualTime()));
  afterEach(() => time.end());

  /** Waits so long from now on each, and tells in which order they went on. */
  function told(...ms: number[]): string[] {
    const order: string[] = [];
    const from = performance.now();
    for (const each of ms) void until(from + each).then(() => order.push(`${each} after ${performance.now() - from}`));
    return order;
  }

  it('ends not before its time', async () => {
    const order = told(2.5, 40);
    await time.wind(2);
    expect(order).toEqual([]);
    await time.wind(1);
    expect(order).toEqual(['2.5 after 3']);
    await time.wind(36);
    expect(order.length).toBe(1);
    await time.wind(1);
    expect(order).toEqual(['2.5 after 3', '40 after 40']);
  });

  it('ends in the order of the times, whatever was asked for first', async () => {
    const order = told(5.9, 5.2, 30, 5.5);
    await time.wind(30);
    expect(order.map((text) => text.split(' ')[0])).toEqual(['5.2', '5.5', '5.9', '30']);
  });

  it('ends at once where its time has passed', async () => {
    await until(performance.now() - 1);
    expect(told(20)).toEqual([]);
  });
});
