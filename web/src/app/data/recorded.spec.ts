import type { TraceRecord } from '@plain-envoy/core/trace';
import { Recorded } from './recorded';

const record = (number: number, unit: number): TraceRecord => ({
  ...{ number, atMs: number, endpointId: 'a', requestId: null, framing: 'tcp', unit, functionCode: 3, sent: null, got: null },
  ...{ end: 'answered', ms: 1, failure: null },
});

describe('Recorded', () => {
  const recorded = new Recorded(
    'day',
    Array.from({ length: 10 }, (_, index) => record(index + 1, index % 2)),
  );
  const numbers = (filter: object, from: number, count: number) =>
    recorded.find(filter, { upTo: null, from, count }).records.map(({ number }) => number);

  it('finds what matches from a position on, or the newest', () => {
    expect(numbers({}, 3, 2)).toEqual([4, 5]);
    expect(numbers({ unit: 1 }, 1, 2)).toEqual([4, 6]);
    expect(numbers({ unit: 1 }, -2, 2)).toEqual([8, 10]);
    expect(numbers({}, -20, 3)).toEqual([1, 2, 3]);
  });

  it('says how many match and what is kept, and looks anew for another filter', () => {
    const { matching, kept } = recorded.find({ unit: 0 }, { upTo: null, from: 0, count: 1 });
    expect([matching, kept]).toEqual([5, { first: 1, last: 10 }]);
    expect(recorded.find({ unit: 9 }, { upTo: null, from: 0, count: 1 }).matching).toBe(0);
    expect(recorded.find({}, { upTo: null, from: 0, count: 1 }).matching).toBe(10);
  });
});
