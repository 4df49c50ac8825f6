import { keepsAll, type TraceRecord, type TraceTrigger } from '@plain-envoy/core/trace';
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
  failure: null,
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
    expect(ring.find({}, all)).toEqual({ kept: { first: 0, last: 0 }, matching: 0, records: [], capture: keepsAll });
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

  it('gives back each exchange as it was, whatever it was, and lends nothing that it keeps', () => {
    const ring = new TraceRing();
    const whole: Omit<TraceRecord, 'number'>[] = [
      {
        ...record(1),
        atMs: 1_700_000_000_000.25,
        ms: 0.125,
        requestId: 'read',
        sent: Uint8Array.of(1, 2, 3),
        got: new Uint8Array(600).fill(7),
      },
      { ...record(2), atMs: null, ms: null, sent: null, got: Uint8Array.of(9), end: 'late', framing: 'ascii', failure: { code: 'late' } },
      { ...record(247), sent: new Uint8Array(0), got: null, framing: 'rtu', functionCode: 127, end: 'sent' },
    ];
    for (let round = 0; round < 3000; round++) for (const one of whole) ring.add(one);
    const last = () => ring.find({}, { upTo: null, from: -3, count: 3 }).records;
    expect(last()).toEqual(whole.map((one, index) => ({ ...one, number: 8998 + index })));
    last()[0]!.got!.fill(0);
    expect(last()[0]!.got![0]).toBe(7);
    expect(ring.since(8999, 5).records).toEqual([{ ...whole[2]!, number: 9000 }]);
  });

  describe('a capture', () => {
    const refused = (code: number): Omit<TraceRecord, 'number'> => ({
      ...record(1),
      end: 'refused',
      got: Uint8Array.of(0, 1, 0, 0, 0, 3, 1, 0x83, code),
    });
    const armed = (trigger: TraceTrigger) => {
      const ring = new TraceRing();
      ring.arm(trigger);
      return ring;
    };
    const kept = (ring: TraceRing) => ring.find({}, { upTo: null, from: 0, count: 100 }).records.length;

    it('ends so many exchanges after an exception, and says why', () => {
      const ring = armed({ on: { kind: 'exception', code: 2 }, action: 'end', after: 2 });
      for (const each of [record(1), refused(6), refused(2), record(2), record(3), record(4), record(5)]) ring.add(each);
      expect(kept(ring)).toBe(5);
      expect(ring.capture).toEqual({ state: 'ended', because: 'Unit 1 answered exception 2.' });
      ring.arm(null);
      ring.add(record(6));
      expect([kept(ring), ring.capture]).toEqual([6, keepsAll]);
    });

    it('begins at trouble, with what set it off, and keeps all from there', () => {
      const ring = armed({ on: { kind: 'trouble' }, action: 'begin', after: 0 });
      for (const unit of [1, 2, 9, 3]) ring.add(record(unit));
      expect(ring.find({}, all).records.map(({ unit }) => unit)).toEqual([9, 3]);
      expect(ring.capture.because).toContain('Unit 9');
    });

    it('ends at a gap, and at once where nothing is wanted after it', () => {
      const ring = armed({ on: { kind: 'gap', ms: 500 }, action: 'end', after: 0 });
      for (const atMs of [0, 400, 800, 2000, 2100]) ring.add({ ...record(1), atMs });
      expect([kept(ring), ring.capture.because]).toEqual([4, 'Nothing was asked for 1200 ms.']);
    });

    it('waits on through a new run', () => {
      const ring = armed({ on: { kind: 'value', pointId: 'p', is: 'above', value: '1' }, action: 'begin', after: 0 });
      ring.add(record(1));
      ring.clear();
      expect([kept(ring), ring.capture.state]).toEqual([0, 'waits to begin']);
      ring.fire('It is 2.');
      ring.add(record(2));
      expect(kept(ring)).toBe(1);
    });
  });
});
