import { type Counters, type Motion, newCounters } from '@plain-envoy/core/feed';
import type { PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import { type RequestResult } from '../client/index.js';
import { failed } from '../links/index.js';
import { countMotion, countRun, countTry, newPace } from './counting.js';
import { Ledger } from './ledger.js';

describe('countMotion', () => {
  /** Reads each second; a star is one in which something was other than before. */
  const moved = (reads: string): Motion =>
    [...reads].reduce<Motion | null>((motion, read, second) => countMotion(motion, read === '*', second * 1000, 1000), null)!;

  it('tells for how long something has moved, and for how long nothing has', () => {
    expect(moved('.*..*....')).toEqual({ movedMs: 4000, longestMs: 3000, stillMs: 4000, readAtMs: 8000 });
    expect(moved('....')).toEqual(jasmine.objectContaining({ movedMs: 0, longestMs: 0, stillMs: 3000 }));
  });

  it('forgets a long standstill little by little, as the device moves again', () => {
    const long = moved(`${'.'.repeat(60)}*`);
    const after = Array.from({ length: 200 }).reduce<Motion>((motion) => countMotion(motion, true, motion.readAtMs + 1000, 1000), long);
    expect([long.longestMs, after.longestMs < 2000]).toEqual([60_000, true]);
  });

  it('does not take a while without reads for standing still', () => {
    const before = moved('.*.*');
    expect(countMotion(before, false, 600_000, 1000).stillMs).toBe(3000);
    expect(countMotion(before, true, 2000, 1000)).toEqual(jasmine.objectContaining({ readAtMs: 3000, stillMs: 0 }));
  });
});

describe('countTry', () => {
  const exception = (code: number): RequestResult => failed({ code: 'exception', exception: code });
  const after = (...tries: [RequestResult, number][]): Counters => {
    const counters = newCounters('fan');
    for (const [outcome, ms] of tries) countTry(counters, outcome, ms);
    return counters;
  };

  it('keeps answers, refusals, damage and silence apart, and the time of answers only', () => {
    const counters = after(
      [{ kind: 'written' }, 10],
      [exception(2), 20],
      [failed({ code: 'no-answer' }), 1000],
      [failed({ code: 'checksum' }), 500],
      [exception(11), 60],
      [exception(2), 30],
      [failed({ code: 'refused-connection', host: 'x', port: 1 }), 1],
    );
    expect(counters).toEqual(jasmine.objectContaining({ answered: 1, damaged: 1, noAnswer: 2, exceptions: { 2: 2, 11: 1 } }));
    expect([counters.lastMs, counters.meanMs, counters.worstMs]).toEqual([30, 30, 60]);
    expect(counters.recent).toEqual(['answered', 2, 'no answer', 'damaged', 11, 2, 'not connected']);
    expect(counters.lastDamage).toEqual({ code: 'checksum' });
    expect(counters.lastFailure?.code).toBe('refused-connection');
  });

  it('says how the last one ended', () => {
    expect(after([{ kind: 'values', values: [] }, 1]).lastOutcome).toBe('answered');
    expect(after([exception(3), 1]).lastOutcome).toBe('refused');
    expect(after([exception(11), 1]).lastOutcome).toBe('no answer');
    expect(after([failed({ code: 'half-answer', bytes: 1, of: 2 }), 1]).lastOutcome).toBe('damaged');
    expect(after([failed({ code: 'no-answer' }), 1]).lastOutcome).toBe('no answer');
    expect(after([failed({ code: 'no-answer' }), 1])).toEqual(jasmine.objectContaining({ lastMs: null, meanMs: null, worstMs: null }));
  });

  it('remembers the last twenty, and counts on from a late answer', () => {
    const many = Array.from({ length: 25 }, (_, index): [RequestResult, number] => [exception(index), 1]);
    expect(after(...many).recent).toEqual(Array.from({ length: 20 }, (_, index) => index + 5));
    const counters = newCounters('fan');
    countTry(counters, { kind: 'written' }, 1);
    expect(counters.triesSinceLate).toBeNull();
    counters.triesSinceLate = 3;
    countTry(counters, { kind: 'written' }, 1);
    expect(counters.triesSinceLate).toBe(4);
  });
});

describe('countRun', () => {
  it('measures from one start to the next, and remembers the last eight', () => {
    const pace = newPace();
    for (const from of [1000, 1100, 1210, 1300, 1405, 1500, 1600, 1700, 1800, 1900]) countRun(pace, from, from + 20, from === 1900);
    expect([pace.runs, pace.meanPeriodMs, pace.worstPeriodMs]).toEqual([10, 100, 110]);
    expect(pace.recent.map(({ fromMs }) => fromMs)).toEqual([1210, 1300, 1405, 1500, 1600, 1700, 1800, 1900]);
    expect(pace.recent.at(-1)).toEqual({ fromMs: 1900, toMs: 1920, isSilent: true });
    const once = newPace();
    countRun(once, 5, 6, false);
    expect([once.runs, once.meanPeriodMs, once.worstPeriodMs]).toEqual([1, null, null]);
  });
});

describe('Ledger', () => {
  const points = ['measured', 'carried'].map((pointId, at) => ({ pointId, at, width: 1 }));
  const request = { id: 'read', deviceId: 'fan', kind: 'read', periodMs: 1000, also: null, points } as unknown as PlannedRequest;

  it('follows how a device moves, but for what was carried to it', () => {
    const ledger = new Ledger();
    ledger.keepRoutes([{ id: 'route', destination: { id: 'carried' } } as PlannedRoute]);
    const read = (second: number, ...words: number[]) => {
      ledger.read(request, words, second * 1000);
      ledger.tried(request, { kind: 'values', values: words }, 1, '');
      return ledger.collect({ endpoints: [], requests: [], routes: [] }).devices[0]!.motion!;
    };
    read(0, 1, 1);
    expect(read(1, 1, 2)).toEqual(jasmine.objectContaining({ movedMs: 0, stillMs: 1000 }));
    expect(read(2, 5, 2)).toEqual(jasmine.objectContaining({ movedMs: 2000, stillMs: 0 }));
  });
});

describe('tries that are sent ahead of others, and behind others that are in work', () => {
  it('are counted apart, the older ones a little less', () => {
    const counters = newCounters('fan');
    for (let turn = 0; turn < 20; turn++) {
      countTry(counters, { kind: 'written' }, 5);
      countTry(counters, turn % 2 ? failed({ code: 'no-answer' }) : { kind: 'written' }, 5, true);
    }
    const { ahead, behind } = structuredClone(counters);
    expect([ahead.silent, ahead.tries]).toEqual([0, behind.tries]);
    expect(ahead.tries).toBeLessThan(20);
    expect(ahead.tries).toBeGreaterThan(16);
    expect(behind.silent / behind.tries).toBeCloseTo(0.5, 1);
    countTry(counters, failed({ code: 'checksum' }), 5);
    countTry(counters, { kind: 'written', isUnconfirmed: true }, 5);
    expect([counters.ahead.silent, Math.round(counters.ahead.tries * 100)]).toEqual([0, Math.round((ahead.tries * 0.98 + 1) * 100)]);
  });
});
