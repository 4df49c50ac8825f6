import type { TraceRecord } from '@plain-envoy/core/trace';
import { TraceRing } from './index.js';

const record = (unit: number): Omit<TraceRecord, 'number'> => ({
  atMs: 0,
  endpointId: 'gateway',
  requestId: null,
  framing: 'tcp',
  unit,
  functionCode: 3,
  sent: Uint8Array.of(unit),
  got: null,
  end: unit === 9 ? 'silent' : 'answered',
  ms: 1,
  why: null,
});
const all: { upTo: number | null; from: number; count: number } = { upTo: null, from: 0, count: 5 };

describe('TraceRing', () => {
  it('finds what fits, from the oldest or from the newest, and goes on finding in what comes', () => {
    const ring = new TraceRing();
    for (const unit of [1, 9, 2, 9, 3]) ring.add(record(unit));
    const numbers = (part: Partial<typeof all>, filter = {}) => ring.find(filter, { ...all, ...part }).records.map(({ number }) => number);
    expect(numbers({})).toEqual([1, 2, 3, 4, 5]);
    expect(numbers({ from: -2 })).toEqual([4, 5]);
    expect(numbers({ from: 1, count: 2 })).toEqual([2, 3]);
    expect(numbers({}, { end: 'silent' })).toEqual([2, 4]);
    ring.add(record(9));
    expect(numbers({}, { end: 'silent' })).toEqual([2, 4, 6]);
    expect(numbers({ upTo: 5 }, { end: 'silent' }))
      .withContext('held at 5')
      .toEqual([2, 4]);
    expect(numbers({ from: 7 })).toEqual([]);
    ring.clear();
    expect(ring.find({}, all)).toEqual({ kept: { first: 0, last: 0 }, matching: 0, records: [] });
  });

  it('keeps the last 100 000 exchanges, whatever was looked for meanwhile', () => {
    const ring = new TraceRing();
    for (let index = 1; index <= 230_000; index++) {
      ring.add(record(index % 10));
      if (index % 40_000 === 0) ring.find({ unit: 9 }, all);
    }
    const found = ring.find({ unit: 9 }, { upTo: null, from: 0, count: 2 });
    expect(found.kept).toEqual({ first: 130_001, last: 230_000 });
    expect(found.matching).toBe(10_000);
    expect(found.records.map(({ number }) => number)).toEqual([130_009, 130_019]);
    expect(ring.find({ unit: 9 }, { upTo: 120_000, from: 0, count: 5 }).matching).toBe(0);
    expect(ring.find({}, { upTo: 130_000, from: 0, count: 5 }).matching)
      .withContext('what was held is forgotten')
      .toBe(0);
  });
});
