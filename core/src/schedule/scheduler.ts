import { Heap } from './heap.js';

/** What releases a job: the clock, or the end of other jobs. */
export type ReleaseRule =
  | { on: 'period'; periodMs: number; phaseMs: number }
  /** Each time all of `ids` have ended, `pauseMs` later; as a link of a chain, if it is one. */
  | { on: 'after'; ids: readonly string[]; pauseMs: number; chain: Link | null };

/** A job of a chain, which comes back to its first job for ever. One that has stalled for `restartMs` is begun anew. */
export interface Link {
  id: string;
  isFirst: boolean;
  restartMs: number;
}

/** Something to be done again and again on a lane. Times are in ms of any one clock. */
export interface Job {
  id: string;
  laneId: string;
  /** The lower number goes first. */
  priority: number;
  release: ReleaseRule;
  /** Jobs that rest together when nothing answers: those of one device. */
  groupId: string;
}

/** Where jobs are done, up to `concurrent` at a time. */
export interface Lane {
  id: string;
  concurrent: number;
}

/**
 * How a group that does not answer is asked less and less often: after `afterTries` tries in a row without an answer it rests
 * for `firstMs` (null: as long as its job's period), then for `factor` times as long each time, at most `maxMs`; one answer
 * ends it.
 */
export interface BackOffRule {
  afterTries: number;
  firstMs: number | null;
  factor: number;
  maxMs: number;
}

/** A job that may be done now. */
export interface Start {
  id: string;
  laneId: string;
  releasedAtMs: number;
  /** Its group has just rested, so that one try is enough to see whether it answers again. */
  isProbe: boolean;
}

/** What happens to jobs that are not done. */
export interface SchedulerListener {
  /** So many releases came while the job still waited or ran. */
  missed(id: string, times: number): void;
  /** It was due, and is left out because its group rests. */
  rested(id: string): void;
  /** Its chain has stalled and is begun anew with it. */
  restarted(id: string): void;
}

interface State {
  job: Job;
  /** It was asked for by hand: it goes before everything else, once. */
  isCommand: boolean;
  order: number;
  /** The clock when it was first arranged. */
  fromMs: number;
  /** How often the clock has released it. */
  releases: number;
  /** When it was released; null while it neither waits nor runs. */
  releasedAtMs: number | null;
  start: Start | null;
  /** When a pause before it ends; null where none runs. */
  pausedUntilMs: number | null;
  awaiting: Set<string>;
  following: State[];
}

interface LaneState {
  concurrent: number;
  /** So much later than others its jobs are released by the clock, ms. */
  apartMs: number;
  waiting: Heap<State>;
  running: Set<Start>;
}

interface Due {
  atMs: number;
  state: State;
  kind: 'release' | 'restart';
}

/** A link that is left out must not let its chain spin. */
const AFTER_REST_MS = 10;

/** Of many lanes that the clock releases so many begin at the same instant, and each further one this much later. */
const TOGETHER = 4;
const APART_MS = 2;

/**
 * Decides what is done next, given the time and what has ended; whoever has the clock asks it, be it a simulation or the
 * runner. At one instant ends count before releases, and all releases before the next start. A lane does up to its number
 * at a time, without interruption; of those that wait the lower priority number goes first, then the oldest release, then the
 * order given. A release that comes while the same job still waits or runs is missed. Where there are many lanes they begin a little
 * apart, so that none waits while all others are asked; each keeps its period.
 */
export class Scheduler {
  private states = new Map<string, State>();
  private lanes = new Map<string, LaneState>();
  /** Lanes on which something may start since they were last looked at. */
  private readonly open = new Set<string>();
  private due = newDue();
  private readonly chains = new Map<string, { busy: number; movedAtMs: number }>();
  private readonly silences = new Map<string, { tries: number; rests: number; untilMs: number }>();

  constructor(
    private readonly told: SchedulerListener,
    private readonly backOff: BackOffRule | null = null,
  ) {}

  /** Takes over lanes and jobs; those that were there go on undisturbed. Each job's lane has to be among the lanes. */
  arrange(lanes: readonly Lane[], jobs: readonly Job[], nowMs: number): void {
    const [before, lanesBefore] = [this.states, this.lanes];
    const apart = apartOf(lanes, jobs);
    this.lanes = new Map(
      lanes.map(({ id, concurrent }) => {
        const lane = lanesBefore.get(id);
        return [id, newLane(concurrent, lane?.apartMs ?? apart.get(id) ?? 0, lane?.running)];
      }),
    );
    const commands = [...before].filter(([, { isCommand, job }]) => isCommand && this.lanes.has(job.laneId));
    this.states = new Map([
      ...commands,
      ...jobs.map((job, order) => [job.id, stateOf(job, order, before.get(job.id), nowMs + this.lanes.get(job.laneId)!.apartMs)] as const),
    ]);
    this.due = newDue();
    for (const state of this.states.values()) {
      const { release, laneId } = state.job;
      const isNew = !before.has(state.job.id);
      if (release.on === 'period') this.due.add({ atMs: dueAt(state, release), state, kind: 'release' });
      else this.tie(state, release, isNew, nowMs);
      if (state.releasedAtMs !== null && !state.start) this.lanes.get(laneId)!.waiting.add(state);
    }
    for (const id of this.lanes.keys()) this.open.add(id);
  }

  /** Puts something on a lane that goes before all else there, once, even where its group rests. */
  command({ id, laneId, groupId }: Pick<Job, 'id' | 'laneId' | 'groupId'>, nowMs: number): void {
    const release: ReleaseRule = { on: 'after', ids: [], pauseMs: 0, chain: null };
    const state = { ...stateOf({ id, laneId, groupId, priority: -Infinity, release }, -1, undefined, nowMs), isCommand: true };
    this.states.set(id, state);
    this.put(state, nowMs);
  }

  /** When something is due next; Infinity for never. */
  nextDueMs(): number {
    return this.due.first()?.atMs ?? Infinity;
  }

  /** Releases everything that is due by now. */
  release(nowMs: number): void {
    for (let next = this.due.first(); next && next.atMs <= nowMs; next = this.due.first()) {
      this.due.take();
      if (next.kind === 'restart') this.restart(next.state, next.atMs);
      else this.releaseDue(next.state, next.atMs, nowMs);
    }
  }

  /** What may start now. Each start has to be ended by `end`. */
  take(nowMs: number): Start[] {
    const starts: Start[] = [];
    for (const laneId of this.open) {
      this.open.delete(laneId);
      const lane = this.lanes.get(laneId);
      while (lane && lane.running.size < lane.concurrent && lane.waiting.size > 0) {
        const state = lane.waiting.take()!;
        const { id, groupId } = state.job;
        if (!state.isCommand && this.rests(groupId, nowMs)) {
          this.told.rested(id);
          this.over(state, nowMs, AFTER_REST_MS);
          continue;
        }
        state.start = { id, laneId, releasedAtMs: state.releasedAtMs!, isProbe: (this.silences.get(groupId)?.rests ?? 0) > 0 };
        lane.running.add(state.start);
        starts.push(state.start);
      }
    }
    return starts;
  }

  /** A job has ended. `silentTries` is how many tries brought no answer: 0 for an answer, null where nothing was asked. */
  end(start: Start, nowMs: number, silentTries: number | null): void {
    if (this.lanes.get(start.laneId)?.running.delete(start)) this.open.add(start.laneId);
    const state = this.states.get(start.id);
    if (state?.start !== start) return;
    if (silentTries !== null) this.heard(state.job, nowMs, silentTries);
    if (state.isCommand) this.states.delete(start.id);
    this.over(state, nowMs);
  }

  /** Everything that waits or runs on this lane is given up, because the way there is gone. */
  drop(laneId: string): void {
    for (const state of this.states.values()) {
      if (state.job.laneId !== laneId || state.releasedAtMs === null) continue;
      state.start = null;
      state.releasedAtMs = null;
      this.moveChain(state.job, -1, null);
      if (state.isCommand) this.states.delete(state.job.id);
    }
    const lane = this.lanes.get(laneId);
    if (lane) this.lanes.set(laneId, newLane(lane.concurrent, lane.apartMs));
  }

  /** Whether a group is left alone just now, because it does not answer. */
  rests(groupId: string, nowMs: number): boolean {
    return nowMs < (this.silences.get(groupId)?.untilMs ?? -Infinity);
  }

  private tie(state: State, { ids, chain }: Extract<ReleaseRule, { on: 'after' }>, isNew: boolean, nowMs: number): void {
    for (const id of ids) this.states.get(id)?.following.push(state);
    if (state.pausedUntilMs !== null) this.due.add({ atMs: state.pausedUntilMs, state, kind: 'release' });
    if (!chain) return;
    if (!this.chains.has(chain.id)) this.chains.set(chain.id, { busy: 0, movedAtMs: nowMs });
    if (!chain.isFirst) return;
    if (isNew) this.due.add({ atMs: nowMs, state, kind: 'release' });
    this.due.add({ atMs: this.chains.get(chain.id)!.movedAtMs + chain.restartMs, state, kind: 'restart' });
  }

  private releaseDue(state: State, atMs: number, nowMs: number): void {
    const { id, release } = state.job;
    state.pausedUntilMs = null;
    if (release.on === 'period') {
      const overslept = Math.floor((nowMs - atMs) / release.periodMs);
      if (overslept > 0) this.told.missed(id, overslept);
      state.releases += overslept + 1;
      this.due.add({ atMs: dueAt(state, release), state, kind: 'release' });
    }
    this.put(state, atMs);
  }

  private put(state: State, releasedAtMs: number): void {
    if (state.releasedAtMs !== null) return this.told.missed(state.job.id, 1);
    state.releasedAtMs = releasedAtMs;
    this.moveChain(state.job, 1, releasedAtMs);
    this.lanes.get(state.job.laneId)!.waiting.add(state);
    this.open.add(state.job.laneId);
  }

  private over(state: State, nowMs: number, leastPauseMs = 0): void {
    const releasedAtMs = state.releasedAtMs!;
    state.start = null;
    state.releasedAtMs = null;
    this.moveChain(state.job, -1, nowMs);
    for (const next of state.following) {
      next.awaiting.delete(state.job.id);
      if (next.awaiting.size > 0 || next.job.release.on !== 'after') continue;
      const { ids, chain } = next.job.release;
      const pauseMs = chain ? Math.max(next.job.release.pauseMs, leastPauseMs) : next.job.release.pauseMs;
      next.awaiting = new Set(ids);
      if (pauseMs > 0) this.pause(next, nowMs + pauseMs);
      else this.put(next, chain ? nowMs : releasedAtMs);
    }
  }

  private pause(state: State, untilMs: number): void {
    state.pausedUntilMs = untilMs;
    this.due.add({ atMs: untilMs, state, kind: 'release' });
  }

  private moveChain({ release }: Job, more: number, atMs: number | null): void {
    const chain = release.on === 'after' && release.chain ? this.chains.get(release.chain.id) : undefined;
    if (!chain) return;
    chain.busy += more;
    chain.movedAtMs = atMs ?? chain.movedAtMs;
  }

  /** Looks whether a chain has stalled: none of it waits or runs, and none has for long. */
  private restart(state: State, atMs: number): void {
    const { release, id } = state.job;
    if (release.on !== 'after' || !release.chain) return;
    const { restartMs } = release.chain;
    const chain = this.chains.get(release.chain.id)!;
    if (chain.busy === 0 && atMs >= chain.movedAtMs + restartMs) {
      this.told.restarted(id);
      this.put(state, atMs);
    }
    this.due.add({ atMs: (chain.busy === 0 ? chain.movedAtMs : atMs) + restartMs, state, kind: 'restart' });
  }

  private heard({ groupId, release }: Job, nowMs: number, silentTries: number): void {
    if (!this.backOff) return;
    if (silentTries === 0) {
      this.silences.delete(groupId);
      return;
    }
    const { afterTries, firstMs, factor, maxMs } = this.backOff;
    const silence = this.silences.get(groupId) ?? { tries: 0, rests: 0, untilMs: -Infinity };
    silence.tries += silentTries;
    if (silence.tries >= afterTries) {
      const first = firstMs ?? (release.on === 'period' ? release.periodMs : 0);
      silence.untilMs = nowMs + Math.min(maxMs, first * factor ** silence.rests);
      silence.rests += 1;
    }
    this.silences.set(groupId, silence);
  }
}

/** How much later than the first each lane begins that the clock releases, ms; the last of them within half of its shortest period. */
function apartOf(lanes: readonly Lane[], jobs: readonly Job[]): Map<string, number> {
  const shortest = new Map<string, number>();
  for (const { laneId, release } of jobs) {
    if (release.on === 'period') shortest.set(laneId, Math.min(release.periodMs, shortest.get(laneId) ?? Infinity));
  }
  const clocked = lanes.filter(({ id }) => shortest.has(id));
  const apartMs = (id: string) => Math.min(APART_MS, shortest.get(id)! / 2 / clocked.length);
  return new Map(clocked.map(({ id }, index) => [id, Math.max(0, index + 1 - TOGETHER) * apartMs(id)]));
}

/** The state of a job that is arranged; of one that was there before, with all that it is in the midst of. */
function stateOf(job: Job, order: number, before: State | undefined, fromMs: number): State {
  const ids = job.release.on === 'after' ? job.release.ids : [];
  const isSamePace = before && JSON.stringify(before.job.release) === JSON.stringify(job.release);
  const fresh = { fromMs, releases: 0, pausedUntilMs: null, awaiting: new Set(ids) };
  const pace = isSamePace
    ? { fromMs: before.fromMs, releases: before.releases, pausedUntilMs: before.pausedUntilMs, awaiting: before.awaiting }
    : fresh;
  return { job, isCommand: false, order, following: [], releasedAtMs: before?.releasedAtMs ?? null, start: before?.start ?? null, ...pace };
}

/** Counted from the first release on, so that no error adds up. */
function dueAt({ fromMs, releases }: State, { periodMs, phaseMs }: Extract<ReleaseRule, { on: 'period' }>): number {
  return fromMs + phaseMs + releases * periodMs;
}

function newDue(): Heap<Due> {
  return new Heap((a, b) => a.atMs < b.atMs || (a.atMs === b.atMs && a.state.order < b.state.order));
}

function newLane(concurrent: number, apartMs: number, running: Set<Start> = new Set()): LaneState {
  return { concurrent, apartMs, running, waiting: new Heap(goesFirst) };
}

function goesFirst(a: State, b: State): boolean {
  if (a.job.priority !== b.job.priority) return a.job.priority < b.job.priority;
  return a.releasedAtMs === b.releasedAtMs ? a.order < b.order : a.releasedAtMs! < b.releasedAtMs!;
}
