import type { Motion } from '@plain-envoy/core/feed';
import type { PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import { countMotion } from './counting.js';
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
