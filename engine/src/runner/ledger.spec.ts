import type { Plan, PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
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
