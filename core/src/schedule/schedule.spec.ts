import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { hyperperiod, type Job, jobsOf, pacesOf, Scheduler, simulate, type Simulation, type Start, utilisations } from './index.js';
import { compile } from '../compile/index.js';

const every = (id: string, periodMs: number, fields: Partial<Job> = {}): Job => ({
  id,
  laneId: 'bus',
  priority: 1,
  groupId: id,
  release: { on: 'period', periodMs, phaseMs: 0 },
  ...fields,
});
const after = (id: string, ids: string[], pauseMs = 0): Job => ({
  ...every(id, 1),
  release: { on: 'after', ids, pauseMs, chain: null },
});
const link = (id: string, previous: string, isFirst: boolean, pauseMs = 0): Job => ({
  ...every(id, 1),
  release: { on: 'after', ids: [previous], pauseMs, chain: { id: 'chain', isFirst, restartMs: 500 } },
});
const run = (jobs: Job[], durations: Record<string, number>, fields: Partial<Simulation> = {}) =>
  simulate({
    lanes: [{ id: 'bus', concurrent: 1 }],
    jobs,
    horizonMs: 100,
    done: (id) => ({ ms: durations[id]!, silentTries: 0 }),
    ...fields,
  });
const written = ({ spans }: ReturnType<typeof simulate>) => spans.map(({ id, fromMs, toMs }) => `${id} ${fromMs}-${toMs}`);

describe('the schedule', () => {
  it('lets the lower priority number go first, then the oldest release, then the order given', () => {
    const jobs = [every('a', 40), every('b', 40), every('urgent', 50, { priority: 0 })];
    expect(written(run(jobs, { a: 15, b: 15, urgent: 5 }, { horizonMs: 60 }))).toEqual([
      'urgent 0-5',
      'a 5-20',
      'b 20-35',
      'a 40-55',
      'urgent 55-60',
    ]);
  });

  it('counts a release that comes while the same one waits or runs as missed, and does not queue it twice', () => {
    const simulated = run([every('a', 10)], { a: 25 }, { horizonMs: 60 });
    expect(written(simulated)).toEqual(['a 0-25', 'a 30-55']);
    expect(simulated.missed.get('a')).toBe(4);
    expect(pacesOf(simulated, ['a']).get('a')).toEqual({ runs: 2, meanPeriodMs: 30, worstPeriodMs: 30, worstWaitMs: 0, missed: 4 });
  });

  it('counts an end before a release at the same instant', () => {
    const simulated = run([every('a', 10)], { a: 10 }, { horizonMs: 30 });
    expect([written(simulated), simulated.missed.size]).toEqual([['a 0-10', 'a 10-20', 'a 20-30'], 0]);
  });

  it('does as many at a time as the lane allows', () => {
    const jobs = [every('a', 50), every('b', 50), every('c', 50)];
    const lane = { id: 'bus', concurrent: 2 };
    const simulated = run(jobs, { a: 20, b: 30, c: 10 }, { lanes: [lane], horizonMs: 50 });
    expect(written(simulated)).toEqual(['a 0-20', 'b 0-30', 'c 20-30']);
    expect(utilisations(simulated.spans, [lane], 50).get('bus')).toBe(0.6);
  });

  it('releases what follows when all that it waits for has ended, with their release', () => {
    const jobs = [every('read', 50), every('other', 50), after('write', ['read', 'other']), after('late', ['read'], 7)];
    const simulated = run(jobs, { read: 10, other: 10, write: 5, late: 1 }, { horizonMs: 50 });
    expect(written(simulated)).toEqual(['read 0-10', 'other 10-20', 'write 20-25', 'late 25-26']);
    expect(simulated.spans.map(({ releasedMs }) => releasedMs)).toEqual([0, 0, 0, 17]);
  });

  it('runs a chain as fast as the lane allows, in its order, with its pause', () => {
    const jobs = [link('a', 'c', true, 5), link('b', 'a', false), link('c', 'b', false)];
    expect(written(run(jobs, { a: 10, b: 10, c: 10 }, { horizonMs: 60 }))).toEqual([
      'a 0-10',
      'b 10-20',
      'c 20-30',
      'a 35-45',
      'b 45-55',
      'c 55-65',
    ]);
  });

  it('lets a chain go on slowly past a device that is left to rest', () => {
    const jobs = [link('a', 'b', true), { ...link('b', 'a', false), groupId: 'a' }];
    const backOff = { afterTries: 1, firstMs: 50, factor: 1, maxMs: 50 };
    const { spans } = run(jobs, {}, { horizonMs: 200, backOff, done: () => ({ ms: 5, silentTries: 1 }) });
    expect(spans.length).toBeGreaterThan(2);
    expect(spans.length).toBeLessThan(8);
  });

  it('makes chains of the reads of rounds that have a pause, on each lane by itself', () => {
    const rounds = fernhollow().rounds.map((round) => (round.name === 'Kiln, fast' ? { ...round, pauseMs: 3 } : round));
    const { plan } = compile({ ...fernhollow(), rounds });
    const { jobs } = jobsOf(plan);
    const own = plan.requests.filter(({ kind, roundId }) => kind === 'read' && roundId === rounds[0]!.id);
    const lanes = new Set(own.map(({ endpointId }) => endpointId));
    const links = jobs.filter(({ release }) => release.on === 'after' && release.chain);
    expect(links.map(({ id }) => id)).toEqual(own.map(({ id }) => id));
    expect(links.filter(({ release }) => release.on === 'after' && release.chain!.isFirst).length).toBe(lanes.size);
    const simulated = simulate({ ...jobsOf(plan), horizonMs: 2000, done: () => ({ ms: 20, silentTries: 0 }) });
    const runs = simulated.spans.filter(({ id }) => id === own[0]!.id);
    expect(runs.length).toBeGreaterThan(4);
    expect(simulated.restarted.size).toBe(0);
  });

  it('lets what is asked for by hand go before everything that waits, once, and past a rest', () => {
    const told = { missed: () => undefined, rested: () => undefined, restarted: () => undefined };
    const scheduler = new Scheduler(told, { afterTries: 1, firstMs: 1000, factor: 1, maxMs: 1000 });
    const jobs = [every('first', 100, { priority: 0, groupId: 'x' }), every('second', 100, { groupId: 'x' })];
    scheduler.arrange([{ id: 'bus', concurrent: 1 }], jobs, 0);
    scheduler.release(0);
    const [first] = scheduler.take(0);
    scheduler.command({ id: 'by hand', laneId: 'bus', groupId: 'x' }, 5);
    expect(scheduler.take(5)).toEqual([]);
    scheduler.arrange([{ id: 'bus', concurrent: 1 }], jobs, 6);
    scheduler.end(first!, 10, 1);
    const [byHand] = scheduler.take(10);
    expect(byHand?.id).toBe('by hand');
    scheduler.end(byHand!, 20, 0);
    scheduler.release(100);
    expect(scheduler.take(100).map(({ id }) => id)).toEqual(['first']);
  });

  it('begins a chain anew that has stalled, and says so', () => {
    const restarted: string[] = [];
    const told = { missed: () => undefined, rested: () => undefined, restarted: (id: string) => restarted.push(id) };
    const scheduler = new Scheduler(told);
    scheduler.arrange([{ id: 'bus', concurrent: 1 }], [link('a', 'b', true), link('b', 'a', false)], 0);
    scheduler.release(0);
    expect(scheduler.take(0).map(({ id }) => id)).toEqual(['a']);
    scheduler.drop('bus');
    scheduler.release(499);
    expect(scheduler.take(499)).toEqual([]);
    scheduler.release(500);
    expect([scheduler.take(500).map(({ id }) => id), restarted]).toEqual([['a'], ['a']]);
    scheduler.release(5000);
    expect(restarted).withContext('while it runs it has not stalled').toEqual(['a']);
  });

  it('lets a device that does not answer rest longer and longer, all its requests together, until one answer', () => {
    const jobs = [every('dead', 10, { groupId: 'x' }), every('too', 10, { groupId: 'x' }), every('well', 10)];
    const backOff = { afterTries: 2, firstMs: 30, factor: 2, maxMs: 100 };
    const done = (id: string, startMs: number) => {
      const isSilent = id !== 'well' && startMs < 250;
      return { ms: isSilent ? 20 : 1, silentTries: isSilent ? 2 : 0 };
    };
    const { spans, rested } = run(jobs, {}, { horizonMs: 400, backOff, done });
    const silent = spans.filter(({ silentTries }) => silentTries === 2).map(({ fromMs }) => fromMs);
    expect(silent).toEqual([0, 50, 130]);
    expect(rested.get('dead')!).toBeGreaterThan(10);
    expect(spans.filter(({ id, fromMs }) => id === 'dead' && fromMs > 300).length).toBe(9);
  });

  it('goes on undisturbed where jobs are arranged anew', () => {
    const missed: string[] = [];
    const scheduler = new Scheduler({ missed: (id) => missed.push(id), rested: () => undefined, restarted: () => undefined });
    const lanes = [{ id: 'bus', concurrent: 1 }];
    scheduler.arrange(lanes, [every('a', 10), every('b', 10)], 0);
    scheduler.release(0);
    const [first] = scheduler.take(0) as [Start];
    scheduler.arrange(lanes, [every('b', 10), every('c', 10)], 5);
    expect(scheduler.take(5)).withContext('the lane is still taken').toEqual([]);
    scheduler.release(5);
    scheduler.end(first, 6, 0);
    expect(scheduler.take(6).map(({ id, releasedAtMs }) => [id, releasedAtMs])).toEqual([['b', 0]]);
    expect([missed, scheduler.nextDueMs()]).toEqual([[], 10]);
  });

  it('keeps the pause of a chain where jobs are arranged anew', () => {
    const scheduler = new Scheduler({ missed: () => undefined, rested: () => undefined, restarted: () => undefined });
    const chain = [link('a', 'a', true, 20)];
    const lanes = [{ id: 'bus', concurrent: 1 }];
    scheduler.arrange(lanes, chain, 0);
    scheduler.release(0);
    scheduler.end(scheduler.take(0)[0]!, 5, 0);
    scheduler.arrange(lanes, chain, 10);
    expect(scheduler.nextDueMs()).toBe(25);
    scheduler.release(25);
    expect(scheduler.take(25).map(({ id }) => id)).toEqual(['a']);
  });

  it('begins many lanes a little apart, each at its own period, and leaves a lane that is there where it is', () => {
    const lanes = (count: number, from = 0) => Array.from({ length: count }, (_, index) => ({ id: `lane ${from + index}`, concurrent: 1 }));
    const read = (laneId: string) => every(`read ${laneId}`, 40, { laneId });
    const begins = (count: number) => {
      const all = lanes(count);
      const jobs = all.map(({ id }) => read(id));
      const { spans } = simulate({ lanes: all, jobs, horizonMs: 80, done: () => ({ ms: 1, silentTries: 0 }) });
      return all.map(({ id }) => spans.filter((span) => span.id === `read ${id}`).map(({ fromMs }) => fromMs));
    };
    expect(begins(4)).toEqual([[0, 40], [0, 40], [0, 40], [0, 40]]); // prettier-ignore
    expect(begins(6).slice(3)).toEqual([[0, 40], [2, 42], [4, 44]]); // prettier-ignore
    const many = begins(43);
    expect([many[3]![0], many[4]![0], many.at(-1)![0]! < 20]).toEqual([0, 20 / 43, true]);

    const scheduler = new Scheduler({ missed: () => undefined, rested: () => undefined, restarted: () => undefined });
    const arrange = (of: { id: string; concurrent: number }[], nowMs: number) =>
      scheduler.arrange(
        of,
        of.map(({ id }) => read(id)),
        nowMs,
      );
    arrange(lanes(6), 0);
    scheduler.release(4);
    for (const start of scheduler.take(4)) scheduler.end(start, 5, 0);
    // The first is gone, so that each of the others is one place further to the front; none of them is hurried.
    arrange(lanes(5, 1), 10);
    scheduler.release(43);
    expect(scheduler.take(43).map(({ id, releasedAtMs }) => `${id} ${releasedAtMs}`)).toEqual([
      'read lane 1 40',
      'read lane 2 40',
      'read lane 3 40',
      'read lane 4 42',
    ]);
    expect(scheduler.nextDueMs()).toBe(44);
  });

  it('counts releases that the clock overslept as missed', () => {
    const missed: [string, number][] = [];
    const scheduler = new Scheduler({
      missed: (id, times) => missed.push([id, times]),
      rested: () => undefined,
      restarted: () => undefined,
    });
    scheduler.arrange([{ id: 'bus', concurrent: 1 }], [every('a', 10)], 0);
    scheduler.release(35);
    expect([missed, scheduler.nextDueMs()]).toEqual([[['a', 3]], 40]);
  });

  it('repeats after the least common multiple of its periods', () => {
    expect([hyperperiod([500, 2000, 1000], 60_000), hyperperiod([7, 11, 13], 1000), hyperperiod([0.5], 1000), hyperperiod([], 9)]).toEqual([
      2000,
      null,
      null,
      1,
    ]);
  });

  it('agrees in every span with a simulator that knows nothing of it and goes from one millisecond to the next', () => {
    const job = fc.record({
      lane: fc.nat(2),
      ms: fc.integer({ min: 1, max: 40 }),
      periodMs: fc.integer({ min: 5, max: 90 }),
      priority: fc.nat(2),
    });
    const lanes = fc.tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 2 }), fc.constant(1));
    fc.assert(
      fc.property(fc.array(job, { minLength: 1, maxLength: 12 }), lanes, (given, concurrent) => {
        const jobs = given.map(({ lane, periodMs, priority }, index) => every(`${index}`, periodMs, { laneId: `${lane}`, priority }));
        const simulated = simulate({
          lanes: concurrent.map((many, id) => ({ id: `${id}`, concurrent: many })),
          jobs,
          horizonMs: 400,
          done: (id) => ({ ms: given[Number(id)]!.ms, silentTries: 0 }),
        });
        const plain = tickByTick(given, concurrent, 400);
        const inOrder = simulated.spans.map(({ id, fromMs, toMs }) => `${fromMs} ${toMs} ${id}`).sort();
        expect(inOrder).toEqual(plain.spans.sort());
        expect(given.map((_, index) => simulated.missed.get(`${index}`) ?? 0)).toEqual(plain.missed);
      }),
      { numRuns: 500 },
    );
  });
});

/** The plainest reading of the rules, a millisecond at a time. */
function tickByTick(
  jobs: { lane: number; ms: number; periodMs: number; priority: number }[],
  concurrent: readonly number[],
  horizonMs: number,
) {
  const spans: string[] = [];
  const missed = jobs.map(() => 0);
  const state = jobs.map(() => ({ at: 'idle' as 'idle' | 'waits' | 'runs', since: 0, until: 0 }));
  for (let now = 0; now < horizonMs; now++) {
    for (const each of state) if (each.at === 'runs' && each.until === now) each.at = 'idle';
    jobs.forEach(({ periodMs }, index) => {
      const each = state[index]!;
      if (now % periodMs !== 0) return;
      if (each.at !== 'idle') missed[index]! += 1;
      else Object.assign(each, { at: 'waits', since: now });
    });
    concurrent.forEach((many, lane) => {
      for (;;) {
        const running = state.filter((each, index) => each.at === 'runs' && jobs[index]!.lane === lane).length;
        const waiting = jobs.map((_, index) => index).filter((index) => state[index]!.at === 'waits' && jobs[index]!.lane === lane);
        const next = waiting.sort((a, b) => jobs[a]!.priority - jobs[b]!.priority || state[a]!.since - state[b]!.since || a - b)[0];
        if (running >= many || next === undefined) return;
        const until = now + jobs[next]!.ms;
        Object.assign(state[next]!, { at: 'runs', until });
        spans.push(`${now} ${until} ${next}`);
      }
    });
  }
  return { spans, missed };
}
