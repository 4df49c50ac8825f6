import type { ProjectDocument } from '../model/index.js';
import type { Plan, PlannedRequest, PlannedRoute } from '../plan/index.js';
import { type Done, jobsOf, type Pace, pacesOf, runnerBackOff, simulate, type BusySpan, utilisations } from '../schedule/index.js';
import { type Refresh, refreshOf } from '../far/index.js';
import { type Age, AgeTracker } from './ages.js';
import { type Duration, durationsOf } from './durations.js';

/** What is supposed while it runs. */
export interface Supposed {
  horizonMs: number;
  /** Devices that do not answer. */
  dead: readonly string[];
  /** Without it, a device that does not answer is asked as often as any. */
  backsOff: boolean;
}

/** What a plan will really do. Its spans are those of the first part only, so that a chart can be drawn of them. */
export interface Forecast {
  horizonMs: number;
  /** Where requests queue: a device that is dialled, and behind a gateway its serial line. */
  lanes: LaneForecast[];
  requests: RequestForecast[];
  routes: RouteForecast[];
  spans: BusySpan[];
}

export interface LaneForecast {
  id: string;
  name: string;
  concurrent: number;
  /** The part of the time in which its places are taken, 0 to 1. */
  utilisation: number;
  /** The part that all periods together ask for while all answer; more than 1 cannot be kept. */
  load: number;
  /** Who asks there, the most first. Null is Plain Envoy. */
  carriers: CarrierShare[];
}

/** One of those that ask on a lane, each without knowing of the others. */
export interface CarrierShare {
  carrierId: string | null;
  /** Its part of the load. */
  load: number;
  /** How long one of its requests can find the lane taken by the others: the longest request of each of them. */
  waitsMs: number;
}

export interface RequestForecast extends Pace {
  id: string;
  laneId: string;
  wishedMs: number;
  /** One answered request. */
  answeredMs: number;
  /** Releases at which it was left out, because its device did not answer. */
  rested: number;
}

export interface RouteForecast {
  id: string;
  /** Null where nothing arrives. */
  age: Age | null;
  /** The age that is allowed, or the watchdog at the destination where that is shorter. */
  limitMs: number | null;
}

/** Spans past this time are not kept. */
const DRAWN_MS = 20_000;

/** Runs the plan on the scheduler with a clock of its own, with the times that the lines and devices state. */
export function forecast(document: ProjectDocument, plan: Plan, { horizonMs, dead, backsOff }: Supposed): Forecast {
  const { lanes, jobs } = jobsOf(plan);
  const durations = durationsOf(document, plan.requests);
  const requests = new Map(plan.requests.map((request) => [request.id, request]));
  const follower = new Follower(plan.routes);
  const silent = new Set(dead);
  const chance = random(1);
  const simulated = simulate({
    lanes,
    jobs,
    horizonMs,
    backOff: backsOff ? runnerBackOff : null,
    done: (id, startMs, isProbe) => {
      const request = requests.get(id)!;
      if (request.kind === 'write' && !request.also && !follower.hasNews(id, startMs)) return { ms: 0, silentTries: null };
      const isDead = silent.has(request.deviceId) || silent.has(request.endpointId);
      const outcome = attempt(durations.get(id)!, isProbe, isDead, chance);
      follower.done(request, startMs, outcome);
      return outcome;
    },
  });
  const paces = pacesOf(simulated, [...requests.keys()]);
  const used = utilisations(simulated.spans, lanes, horizonMs);
  const names = laneNames(document, plan);
  const limits = new Map(document.routes.map(({ id, maxAgeMs }) => [id, maxAgeMs ?? Infinity]));
  const loads = new Map<string, number>();
  for (const { id, endpointId, periodMs } of plan.requests)
    loads.set(endpointId, (loads.get(endpointId) ?? 0) + durations.get(id)!.answeredMs / periodMs);
  return {
    horizonMs,
    lanes: lanes.map(({ id, concurrent }) => ({
      id,
      name: names.get(id)!,
      concurrent,
      utilisation: used.get(id)!,
      load: (loads.get(id) ?? 0) / concurrent,
      carriers: sharesOf(plan, durations, id, concurrent),
    })),
    requests: plan.requests.map(({ id, withId, endpointId, periodMs }) => ({
      id,
      laneId: endpointId,
      wishedMs: periodMs,
      answeredMs: durations.get(withId ?? id)!.answeredMs,
      rested: simulated.rested.get(withId ?? id) ?? 0,
      ...paces.get(withId ?? id)!,
    })),
    routes: plan.routes.map(({ id, source, destination }) => {
      const limitMs = Math.min(limits.get(id)!, destination.watchdogMs ?? Infinity);
      return { id, age: olderBy(follower.age(id, horizonMs), refreshOf(document, source)), limitMs: limitMs < Infinity ? limitMs : null };
    }),
    spans: simulated.spans.filter(({ fromMs }) => fromMs < DRAWN_MS),
  };
}

/** What comes in telegrams or frames has an age already when it is read. */
function olderBy(age: Age | null, refresh: Refresh | null): Age | null {
  return age && refresh ? { meanMs: age.meanMs + refresh.meanMs, worstMs: age.worstMs + refresh.worstMs } : age;
}

function sharesOf({ requests }: Plan, durations: ReadonlyMap<string, Duration>, laneId: string, concurrent: number): CarrierShare[] {
  const shares = new Map<string | null, { load: number; longestMs: number }>();
  for (const { id, endpointId, carrierId, periodMs } of requests) {
    if (endpointId !== laneId) continue;
    const { answeredMs } = durations.get(id)!;
    const { load, longestMs } = shares.get(carrierId) ?? { load: 0, longestMs: 0 };
    shares.set(carrierId, { load: load + answeredMs / periodMs / concurrent, longestMs: Math.max(longestMs, answeredMs) });
  }
  const all = [...shares.values()].reduce((sum, { longestMs }) => sum + longestMs, 0);
  return [...shares]
    .map(([carrierId, { load, longestMs }]) => ({ carrierId, load, waitsMs: concurrent === 1 ? all - longestMs : 0 }))
    .sort((a, b) => b.load - a.load);
}

/** A gateway is called by the line behind it, which is what is shared. */
function laneNames({ ports, lines }: ProjectDocument, { endpoints }: Plan): Map<string, string> {
  return new Map(
    endpoints.map(({ id, name }) => {
      const asking = ports.find((port) => port.deviceId === id && port.kind === 'serial' && port.unitId === null);
      return [id, lines.find((line) => line.id === asking?.lineId)?.name ?? name];
    }),
  );
}

interface Attempt extends Done {
  /** How long the last try took. */
  lastMs: number;
}

function attempt({ answeredMs, silentMs, tries: usual, loss }: Duration, isProbe: boolean, isDead: boolean, chance: () => number): Attempt {
  const tries = isProbe ? 1 : usual;
  for (let tried = 0; tried < tries; tried++) {
    const isLost = isDead || (loss > 0 && chance() < loss);
    if (!isLost) return { ms: tried * silentMs + answeredMs, silentTries: 0, lastMs: answeredMs };
  }
  return { ms: tries * silentMs, silentTries: tries, lastMs: silentMs };
}

/** Follows values from the reads that bring them to the writes that carry them on. */
class Follower {
  private readonly reads = new Map<string, { sampledMs: number; endMs: number; isGood: boolean }[]>();
  private readonly byWrite = new Map<string, PlannedRoute[]>();
  private readonly trackers = new Map<string, AgeTracker>();
  private readonly started = new Set<string>();

  constructor(routes: readonly PlannedRoute[]) {
    for (const route of routes) {
      this.trackers.set(route.id, new AgeTracker());
      for (const writeId of [route.writeId, ...(route.valid ? [route.valid.writeId] : [])]) {
        const known = this.byWrite.get(writeId);
        if (known) known.push(route);
        else this.byWrite.set(writeId, [route]);
      }
    }
  }

  /** Whether a write has anything to carry: one of the reads that feed it brought an answer, or it tells what is valid. */
  hasNews(writeId: string, startMs: number): boolean {
    return (this.byWrite.get(writeId) ?? []).some(
      (route) => route.writeId !== writeId || (this.mayGoOut(route) && this.sample(route.readId, startMs)?.isGood),
    );
  }

  /** What goes out on a change is taken to change each time; an edge is taken to stay away, as nobody knows how often it comes. */
  private mayGoOut({ id, trigger }: PlannedRoute): boolean {
    return trigger.on !== 'edge' && (trigger.on !== 'start' || !this.started.has(id));
  }

  done({ id, kind, also }: PlannedRequest, startMs: number, { ms, silentTries, lastMs }: Attempt): void {
    const endMs = startMs + ms;
    const readId = kind === 'write' ? also?.id : id;
    if (readId) {
      const before = this.reads.get(readId)?.at(-1);
      this.reads.set(readId, [...(before ? [before] : []), { sampledMs: endMs - lastMs, endMs, isGood: silentTries === 0 }]);
    }
    if (kind !== 'write') return;
    if (silentTries !== 0) return;
    for (const route of this.byWrite.get(id) ?? []) {
      const sample = route.writeId === id ? this.sample(route.readId, startMs) : undefined;
      if (!sample?.isGood || !this.mayGoOut(route)) continue;
      this.started.add(route.id);
      this.trackers.get(route.id)!.arrived(sample.sampledMs, endMs);
    }
  }

  age(routeId: string, nowMs: number): Age | null {
    return this.trackers.get(routeId)!.age(nowMs);
  }

  /** The last read that had ended by then; a later one may still be on its way. */
  private sample(readId: string, atMs: number) {
    return this.reads.get(readId)?.findLast(({ endMs }) => endMs <= atMs);
  }
}

/** Numbers from 0 to 1 that look random and are the same each time (mulberry32). */
function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}
