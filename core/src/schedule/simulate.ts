import { Heap } from './heap.js';
import { type BackOffRule, type Job, type Lane, Scheduler, type Start } from './scheduler.js';

/** How long a job takes this time, and how many tries stayed without an answer: 0 for an answer, null where nothing is asked. */
export interface Done {
  ms: number;
  silentTries: number | null;
}

export interface Simulation {
  lanes: readonly Lane[];
  jobs: readonly Job[];
  horizonMs: number;
  backOff?: BackOffRule | null;
  /** Asked once for each start, in the order of the starts. */
  done(id: string, startMs: number, isProbe: boolean): Done;
}

/** One job that was done. Nothing is cut off at the horizon. */
export interface BusySpan {
  id: string;
  laneId: string;
  releasedMs: number;
  fromMs: number;
  toMs: number;
  silentTries: number | null;
}

export interface Simulated {
  /** In the order of their starts. */
  spans: BusySpan[];
  missed: Map<string, number>;
  rested: Map<string, number>;
  restarted: Map<string, number>;
}

/** Runs the scheduler on a clock of its own, from 0 up to the horizon; what is released or would start at the horizon is left out. */
export function simulate({ lanes, jobs, horizonMs, backOff, done }: Simulation): Simulated {
  const result: Simulated = { spans: [], missed: new Map(), rested: new Map(), restarted: new Map() };
  const count = (map: Map<string, number>, id: string, times = 1) => map.set(id, (map.get(id) ?? 0) + times);
  const scheduler = new Scheduler(
    {
      missed: (id, times) => count(result.missed, id, times),
      rested: (id) => count(result.rested, id),
      restarted: (id) => count(result.restarted, id),
    },
    backOff ?? null,
  );
  scheduler.arrange(lanes, jobs, 0);
  let serial = 0;
  const ends = new Heap<Ending>((a, b) => a.atMs < b.atMs || (a.atMs === b.atMs && a.serial < b.serial));
  for (;;) {
    const nowMs = Math.min(ends.first()?.atMs ?? Infinity, scheduler.nextDueMs());
    if (nowMs >= horizonMs) return result;
    for (let next = ends.first(); next && next.atMs <= nowMs; next = ends.first()) {
      ends.take();
      scheduler.end(next.start, nowMs, next.silentTries);
    }
    scheduler.release(nowMs);
    for (const start of scheduler.take(nowMs)) {
      const { ms, silentTries } = done(start.id, nowMs, start.isProbe);
      const { id, laneId, releasedAtMs } = start;
      result.spans.push({ id, laneId, releasedMs: releasedAtMs, fromMs: nowMs, toMs: nowMs + ms, silentTries });
      ends.add({ atMs: nowMs + ms, start, silentTries, serial: serial++ });
    }
  }
}

interface Ending {
  atMs: number;
  start: Start;
  silentTries: number | null;
  serial: number;
}
