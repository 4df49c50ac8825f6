import type { Plan, PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import fc from 'fast-check';
import { Ledger } from './ledger.js';

const plan = (periodMs: number) => {
  const points = [{ pointId: 'level', at: 0, width: 1 }];
  const request = { id: 'read', deviceId: 'tank', kind: 'read', periodMs, also: null, points } as unknown as PlannedRequest;
  const route = { id: 'route', periodMs, destination: { id: 'shown' } } as PlannedRoute;
  return { request, plan: { endpoints: [], requests: [request], routes: [route] } satisfies Plan };
};

describe('Ledger, of what grows old', () => {
  let nowMs: number;

  beforeEach(() => {
    nowMs = 1_000_000;
    spyOn(Date, 'now').and.callFake(() => nowMs);
  });

  for (const [periodMs, limitMs] of [
    [100, 1000],
    [333, 1000],
    [500, 1500],
    [10_000, 30_000],
  ] as const)
    it(`takes what is due every ${periodMs} ms for good up to ${limitMs} ms, and for stale from then on`, () => {
      const { request, plan: known } = plan(periodMs);
      const ledger = new Ledger();
      ledger.keepPoints([request]);
      ledger.keepRoutes(known.routes);
      ledger.read(request, [7], nowMs);
      ledger.routeWritten('route', [7], nowMs);
      nowMs += limitMs;
      const before = ledger.collect(known);
      expect([before.readings[0]!.quality, before.routes[0]!.quality]).toEqual(['good', 'good']);
      nowMs += 1;
      const after = ledger.collect(known);
      expect([after.readings[0]!.quality, after.routes[0]!.quality]).toEqual(['stale', 'stale']);
      expect(after.readings[0]!.words).toEqual([7]);
      expect(after.readings[0]!.reason).toContain(`it is due every ${periodMs} ms.`);
      expect(after.routes[0]!.reason).toContain('Last written');
    });

  it('finds each value stale at the first look after its time, whatever comes and goes beside it', () => {
    const requests = [100, 700, 4000, 10_000].map(
      (periodMs, index) =>
        ({
          ...{ id: `read ${index}`, deviceId: 'tank', kind: 'read', periodMs, also: null },
          points: [{ pointId: `level ${index}`, at: 0, width: 1 }],
        }) as unknown as PlannedRequest,
    );
    const step = fc.record({ ms: fc.nat(3000), read: fc.subarray([0, 1, 2, 3]), isLateBy: fc.nat(1500) });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        const ledger = new Ledger();
        ledger.keepPoints(requests);
        const readAt = new Map<number, number>();
        for (const { ms, read, isLateBy } of steps) {
          nowMs += ms;
          for (const index of read) {
            readAt.set(index, nowMs - isLateBy);
            ledger.read(requests[index]!, [nowMs & 0xffff], nowMs - isLateBy);
          }
          ledger.collect({ endpoints: [], requests, routes: [] });
          for (const [index, atMs] of readAt) {
            const limit = Math.max(1000, 3 * requests[index]!.periodMs);
            expect(ledger.reading(`level ${index}`).quality).toBe(nowMs - atMs > limit ? 'stale' : 'good');
          }
        }
      }),
    );
  });

  it('calls a value limited that did not arrive whole, also while it is held, and until it arrives whole', () => {
    const { request, plan: known } = plan(500);
    const ledger = new Ledger();
    ledger.keepPoints([request]);
    ledger.keepRoutes(known.routes);
    const state = () => {
      const [row] = ledger.collect(known).routes;
      return row && [row.quality, row.reason];
    };
    ledger.routeWritten('route', [0xffff], nowMs, { limited: 'It may be more.' });
    expect(state()).toEqual(['limited', 'It may be more.']);
    ledger.routeHeld('route', null);
    expect(state()).withContext('nothing has changed').toBeUndefined();
    nowMs += 60_000;
    expect(state()?.[0]).toBe('stale');
    ledger.routeWritten('route', [7], nowMs);
    expect(state()).toEqual(['good', null]);
  });

  it('takes it for good again when it comes again, and tells only of what has changed', () => {
    const { request, plan: known } = plan(500);
    const ledger = new Ledger();
    ledger.keepPoints([request]);
    ledger.read(request, [7], nowMs);
    nowMs += 2000;
    expect(ledger.collect(known).readings[0]!.quality).toBe('stale');
    expect(ledger.collect(known).readings).toEqual([]);
    ledger.read(request, [8], nowMs);
    expect(ledger.collect(known).readings).toEqual([{ pointId: 'level', words: [8], quality: 'good', reason: null, atMs: nowMs }]);
  });

  it('goes by the shortest period in which a point is read, and never by that of a write', () => {
    const { request, plan: known } = plan(10_000);
    const quick = { ...request, id: 'quick', periodMs: 500 };
    const write = { ...request, id: 'write', kind: 'write', periodMs: 100 } as PlannedRequest;
    const ledger = new Ledger();
    ledger.keepPoints([request, quick, write]);
    ledger.read(request, [7], nowMs);
    nowMs += 1500;
    expect(ledger.collect(known).readings[0]!.quality).toBe('good');
    nowMs += 1;
    expect(ledger.collect(known).readings[0]!.quality).toBe('stale');
  });

  it('keeps a route that has nothing to write from growing old, as long as it is found in order', () => {
    const { plan: known } = plan(500);
    const ledger = new Ledger();
    ledger.keepRoutes(known.routes);
    ledger.routeWritten('route', [7], nowMs);
    for (let second = 0; second < 5; second++) {
      nowMs += 1000;
      ledger.routeHeld('route', null);
      expect(ledger.collect(known).routes.filter(({ quality }) => quality !== 'good')).toEqual([]);
    }
    nowMs += 1501;
    expect(ledger.collect(known).routes[0]!.quality).toBe('stale');
  });
});

describe('Ledger, of what is there', () => {
  const known = plan(500);
  const none: Plan = { endpoints: [], requests: [], routes: [] };
  let ledger: Ledger;
  const told = () => ledger.collect(none);
  const routeTold = () => told().routes.at(-1);

  beforeEach(() => {
    ledger = new Ledger();
    ledger.keepPoints([known.request]);
    ledger.keepRoutes(known.plan.routes);
  });

  it('knows nothing of a point that was never read, and forgets one that is fetched no more', () => {
    expect(ledger.reading('level')).toEqual({ pointId: 'level', words: null, quality: 'bad', reason: null, atMs: null });
    ledger.read(known.request, [7], 1);
    expect(ledger.reading('level').words).toEqual([7]);
    ledger.keepPoints([known.request]);
    expect(ledger.reading('level').words).toEqual([7]);
    ledger.keepPoints([]);
    expect(ledger.reading('level').words).toBeNull();
  });

  it('keeps the value that it had where a read fails, and says why', () => {
    ledger.read(known.request, [7], 1);
    ledger.failed(known.request, 'Nobody answers.');
    expect(told().readings).toEqual([{ pointId: 'level', words: [7], quality: 'bad', reason: 'Nobody answers.', atMs: 1 }]);
  });

  it('keeps the counters of requests that stay, and forgets those of others', () => {
    const other = { ...known.request, id: 'other' };
    for (const request of [known.request, other]) ledger.tried(request, { kind: 'written' }, 5, '');
    ledger.keepPoints([known.request]);
    for (const request of [known.request, other]) ledger.tried(request, { kind: 'written' }, 5, '');
    expect(
      told()
        .requests.map(({ id, answered }) => [id, answered])
        .sort(),
    ).toEqual([
      ['other', 1],
      ['read', 2],
    ]);
  });

  it('says the last error of a device and when it was', () => {
    ledger.tried(known.request, { kind: 'written' }, 5, '');
    expect(told().devices[0]).toEqual(jasmine.objectContaining({ lastErrorAtMs: null }));
    ledger.tried(known.request, { kind: 'failed', failure: { code: 'no-answer' } }, 5, 'It is silent.');
    ledger.tried(known.request, { kind: 'written' }, 5, '');
    const [device] = told().devices;
    expect(device!.lastError).toBe('It is silent.');
    expect(device!.lastErrorAtMs).toBeGreaterThan(0);
  });

  it('counts periods that were missed, chains begun anew, and answers that came late', () => {
    ledger.missed(known.request, 0);
    expect(told().requests).toEqual([]);
    ledger.missed(known.request, 3);
    ledger.restarted(known.request);
    ledger.late('tank', null);
    ledger.late('tank', 640);
    ledger.late('tank', 610);
    const { requests, devices } = told();
    expect([requests[0]!.missed, requests[0]!.restarts, devices[0]!.missed, devices[0]!.late]).toEqual([3, 1, 3, 3]);
    expect([devices[0]!.triesSinceLate, devices[0]!.worstLateMs]).toEqual([0, 640]);
  });

  it('measures anew for each plan', () => {
    ledger.ran(known.request, 10, 20, false);
    expect(told().requests.length).toBe(1);
    ledger.measureAnew();
    ledger.ran(known.request, 30, 40, true);
    expect(told().requests[0]!.pace).toEqual(jasmine.objectContaining({ runs: 1, recent: [{ fromMs: 30, toMs: 40, isSilent: true }] }));
    ledger.routeWritten('route', [7], Date.now() - 5);
    expect(routeTold()?.age?.worstMs).toBeGreaterThanOrEqual(5);
    ledger.measureAnew();
    expect(routeTold()?.age).toBeNull();
  });

  it('counts what a destination already has as arrived, so that a value that seldom changes is not called old', () => {
    const start = Date.now();
    const now = spyOn(Date, 'now').and.returnValue(start);
    const passes = (...of: [atMs: number, sourceAtMs: number][]) =>
      of.map(([atMs, sourceAtMs]) => {
        now.and.returnValue(start + atMs);
        ledger.routeHeld('route', null, start + sourceAtMs);
        const told = routeTold()!;
        return [told.age?.worstMs, told.sourceAtMs! - start];
      });
    ledger.routeWritten('route', [7], start - 10);
    expect(passes([1000, 990], [2000, 1990], [3000, 2970])).toEqual([
      [1010, 990],
      [1010, 1990],
      [1010, 2970],
    ]);
    now.and.returnValue(start + 4000);
    ledger.routeWritten('route', [8], start + 3990);
    expect(routeTold()?.age?.worstMs).toBe(1030);
  });

  it('counts an exchange for what it writes and for what it reads', () => {
    ledger.tried({ ...known.request, also: { id: 'along', offset: 0, count: 1 } }, { kind: 'values', values: [1] }, 5, '');
    expect(told().requests.map(({ id }) => id)).toEqual(['read', 'along']);
  });

  it('follows a route through what becomes of it', () => {
    expect(ledger.written('route')).toBeNull();
    ledger.routeFailed('route', 'No.', { isFailure: true });
    expect(routeTold()).toEqual(
      jasmine.objectContaining({ quality: 'bad', reason: 'No.', failures: 1, isLost: false, writtenWords: null }),
    );
    ledger.routeFailed('route', 'Lost.', { isLost: true, words: [9] });
    expect(routeTold()).toEqual(jasmine.objectContaining({ reason: 'Lost.', failures: 1, isLost: true, writtenWords: [9] }));
    ledger.routeWritten('route', [7], null);
    expect(routeTold()).toEqual(jasmine.objectContaining({ quality: 'good', reason: null, isLost: false, writtenWords: [7], age: null }));
    expect(ledger.written('route')).toEqual([7]);
    ledger.routeForced('route', [8]);
    expect(routeTold()).toEqual(jasmine.objectContaining({ quality: 'good', isForced: true, writtenWords: [8] }));
    ledger.routeFailed('route', 'No.');
    expect(routeTold()).toEqual(jasmine.objectContaining({ isForced: false, failures: 1, writtenWords: [8] }));
  });

  it('tells of a route that holds only where that is new', () => {
    ledger.routeHeld('route', null);
    expect(routeTold()).toEqual(jasmine.objectContaining({ quality: 'good', reason: null }));
    ledger.routeHeld('route', null);
    expect(told().routes).toEqual([]);
    ledger.routeHeld('route', 'It waits.');
    expect(routeTold()?.reason).toBe('It waits.');
    ledger.routeHeld('route', 'It waits.');
    expect(told().routes).toEqual([]);
    const changes = [
      () => ledger.routeFailed('route', 'It waits.', { isLost: true }),
      () => ledger.routeForced('route', [1]),
      () => ledger.routeWritten('route', [1], null),
    ];
    for (const change of changes) {
      change();
      told();
      ledger.routeHeld('route', 'It waits.');
      expect(routeTold()).toEqual(jasmine.objectContaining({ quality: 'good', reason: 'It waits.', isLost: false, isForced: false }));
    }
  });

  it('forgets a route that is gone, and keeps those that stay', () => {
    ledger.routeWritten('route', [7], null);
    ledger.keepRoutes(known.plan.routes);
    expect(ledger.written('route')).toEqual([7]);
    ledger.keepRoutes([]);
    expect(ledger.written('route')).toBeNull();
  });
});
