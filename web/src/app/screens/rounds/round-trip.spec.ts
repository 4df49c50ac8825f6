import { Subject } from 'rxjs';
import type { TripEvent } from '@plain-envoy/core/feed';
import { Proofs } from '../../data/proofs';
import { Refused } from '../../data/api';
import { type Stage, stage, submit, textOf } from '../../testing.spec-helper';
import { binsOf, RoundTrip } from './round-trip';

describe('RoundTrip', () => {
  let on: Stage;
  let events: Subject<TripEvent>;
  let asked: object[];
  beforeEach(async () => {
    [events, asked] = [new Subject(), []];
    const roundTrip = (_project: string, body: object) => (asked.push(body), events);
    on = await stage([{ provide: Proofs, useValue: { roundTrip } }]);
  });

  it('offers ways out with a way back, and shows last, mean, worst and how many were lost', async () => {
    const trip = on.show(RoundTrip);
    await submit(trip);
    expect(asked).toEqual([jasmine.objectContaining({ times: 10 })]);
    for (const [index, ms] of [100, 140, null, 120].entries()) events.next({ kind: 'trip', number: index + 1, ms });
    trip.detectChanges();
    expect(textOf(trip, 'dl')).toMatch(/4, 1 lost.*Last.*120 ms.*Mean.*120 ms.*Worst.*140 ms/s);
    events.complete();
    trip.detectChanges();
    expect(textOf(trip, 'button[type=submit]')).toBe('Start');
  });

  it('says why it was refused', async () => {
    const trip = on.show(RoundTrip);
    await submit(trip);
    events.error(new Refused({ message: 'The way out is not carried just now.', path: ['outId'] }));
    trip.detectChanges();
    expect(textOf(trip, '.problem')).toBe('The way out is not carried just now.');
  });

  it('counts every trip in one stretch of time', () => {
    const times = Array.from({ length: 100 }, (_, index) => 37 + index * 1.7);
    const bins = binsOf(times);
    expect(bins.reduce((sum, { count }) => sum + count, 0)).toBe(100);
    expect(bins.length).toBeLessThanOrEqual(12);
    expect(bins[0]!.fromMs).toBe(37);
    expect(binsOf([5])).toEqual([{ fromMs: 5, toMs: 6, count: 1, part: 1 }]);
    expect(binsOf([])).toEqual([]);
  });
});
