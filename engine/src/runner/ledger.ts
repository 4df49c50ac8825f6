import { AgeTracker } from '@plain-envoy/core/forecast';
import {
  type Batch,
  type Counters,
  type Looked,
  newCounters,
  type Quality,
  type Reading,
  type RouteState,
  type Tally,
} from '@plain-envoy/core/feed';
import type { Plan, PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';
import { countMotion, countRun, countTry, newPace } from './counting.js';
import { areSame } from './words.js';

/** A value that should have come this many periods ago is stale. */
const STALE_PERIODS = 3;
const STALE_AT_LEAST_MS = 1000;

/** What becomes stale where nothing comes any more. */
const AGES: readonly Quality[] = ['good', 'limited', 'sent'];

/**
 * Everything that the runner has seen: readings, routes, counters, and which of them changed since somebody last asked. What is
 * kept of each is changed in place, thousands of times a second: whatever replaces what has lived long is copied by the collector
 * of garbage before it is let go, and nothing is polled meanwhile.
 */
export class Ledger {
  private readonly readings = new Map<string, Reading>();
  private readonly routes = new Map<string, RouteState>();
  /** When each route was last found to be in order, whether or not there was something to write. */
  private readonly checkedAt = new Map<string, number>();
  private readonly ages = new Map<string, AgeTracker>();
  private readonly devices = new Map<string, Counters>();
  private readonly requests = new Map<string, Counters>();
  private readonly changed = {
    readings: new Set<string>(),
    routes: new Set<string>(),
    devices: new Set<string>(),
    requests: new Set<string>(),
  };
  /** What changes of these is told; null for everything. */
  private looked: Record<keyof Looked, ReadonlySet<string>> | null = null;
  private tally = '{}';
  private isTallied = true;
  /** The shortest period at which each point is read. */
  private periods = new Map<string, number>();
  /** Before this nothing that is good can become stale, ms since 1970. */
  private noneStaleBeforeMs = 0;
  /** Where routes lead: what changes there was changed from outside. */
  private destinations: ReadonlySet<string> = new Set();

  clear(): void {
    for (const map of [this.readings, this.routes, this.checkedAt, this.ages, this.devices, this.requests]) map.clear();
    for (const set of Object.values(this.changed)) set.clear();
    this.tally = '{}';
    this.noneStaleBeforeMs = 0;
  }

  /** Tells of these from now on, and at once of those that nobody looked at before. */
  look({ points, routes, requests }: Looked): void {
    const before = this.looked;
    this.looked = { points: new Set(points), routes: new Set(routes), requests: new Set(requests) };
    for (const id of points) if (!before?.points.has(id) && this.readings.has(id)) this.changed.readings.add(id);
    for (const id of routes) if (!before?.routes.has(id) && this.routes.has(id)) this.changed.routes.add(id);
    for (const id of requests) if (!before?.requests.has(id) && this.requests.has(id)) this.changed.requests.add(id);
  }

  /** Forgets points that no request fetches any more: what is shown of them would be old without saying so. */
  keepPoints(requests: readonly PlannedRequest[]): void {
    this.periods = new Map();
    this.noneStaleBeforeMs = 0;
    for (const request of requests) {
      if (request.kind === 'write') continue;
      for (const { pointId } of request.points) {
        this.periods.set(pointId, Math.min(request.periodMs, this.periods.get(pointId) ?? Infinity));
      }
    }
    for (const id of [...this.readings.keys()]) if (!this.periods.has(id)) this.readings.delete(id);
    const kept = new Set(requests.map((request) => request.id));
    for (const id of [...this.requests.keys()]) if (!kept.has(id)) this.requests.delete(id);
  }

  /** What was measured of a plan says nothing of the one that takes its place. */
  measureAnew(): void {
    this.ages.clear();
    for (const state of this.routes.values()) {
      state.age = null;
      this.changedRoute(state.routeId);
    }
    for (const counters of this.requests.values()) counters.pace = newPace();
  }

  /** A request ran, and was answered or not. Times are in ms since 1970. */
  ran(request: PlannedRequest, fromMs: number, toMs: number, isSilent: boolean): void {
    for (const { pace } of this.countersOf(request)) if (pace) countRun(pace, fromMs, toMs, isSilent);
  }

  keepRoutes(routes: readonly PlannedRoute[]): void {
    const kept = new Set(routes.map((route) => route.id));
    this.destinations = new Set(routes.map(({ destination }) => destination.id));
    this.noneStaleBeforeMs = 0;
    for (const id of [...this.routes.keys()])
      if (!kept.has(id)) {
        this.routes.delete(id);
        this.checkedAt.delete(id);
      }
    this.isTallied = false;
  }

  reading(pointId: string): Reading {
    return this.readings.get(pointId) ?? newReading(pointId);
  }

  /** `atMs` is when it was asked for, in ms since 1970, so that a value is never older than it seems. */
  read(request: PlannedRequest, values: readonly number[], atMs: number): void {
    let hasMoved = false;
    for (const { pointId, at, width } of request.points) {
      const reading = ensure(this.readings, pointId, () => newReading(pointId));
      if (!reading.words || !areSame(reading.words, values, at, width)) {
        hasMoved ||= !!reading.words && !this.destinations.has(pointId);
        reading.words = values.slice(at, at + width);
      }
      reading.quality = 'good';
      reading.reason = null;
      reading.atMs = atMs;
      this.tellReading(pointId);
    }
    this.freshAt(atMs);
    const device = ensure(this.devices, request.deviceId, () => newCounters(request.deviceId));
    device.motion = countMotion(device.motion, hasMoved, atMs, request.periodMs);
  }

  failed(request: PlannedRequest, reason: string): void {
    for (const { pointId } of request.points) {
      const reading = ensure(this.readings, pointId, () => newReading(pointId));
      reading.quality = 'bad';
      reading.reason = reason;
      this.tellReading(pointId);
    }
  }

  /** `isUnconfirmed` where it was sent to every unit, so that nobody says that it was taken; `limited` says why it is not the whole value. */
  routeWritten(
    routeId: string,
    words: number[],
    sourceAtMs: number | null,
    { isUnconfirmed = false, limited = null }: { isUnconfirmed?: boolean; limited?: string | null } = {},
  ): void {
    const now = this.checked(routeId);
    const quality: Quality = limited ? 'limited' : isUnconfirmed ? 'sent' : 'good';
    const unconfirmed = 'It was sent to every unit of the line. Nobody confirms a broadcast: read it back to know.';
    const state = this.route(routeId);
    this.arrived(state, sourceAtMs, now);
    this.wrote(state, words, now);
    this.tellRoute(state, quality, limited ?? (isUnconfirmed ? unconfirmed : null));
  }

  /** What a person wants there was written; its source does not matter. */
  routeForced(routeId: string, words: readonly number[]): void {
    const state = this.route(routeId);
    this.wrote(state, words, this.checked(routeId));
    this.tellRoute(state, 'good', 'A person forces its destination.', { isForced: true });
  }

  /**
   * Nothing is written just now, as the route wants it: it waits for something, or the destination already has what was asked for at
   * `sourceAtMs`, which counts as an arrival.
   */
  routeHeld(routeId: string, why: string | null, sourceAtMs: number | null = null): void {
    const now = this.checked(routeId);
    const isNew = !this.routes.has(routeId);
    const state = this.route(routeId);
    if (sourceAtMs !== null) {
      this.arrived(state, sourceAtMs, now);
      this.changedRoute(routeId);
    }
    if ((state.quality === 'sent' || state.quality === 'limited') && why === null) return;
    if (!isNew && state.quality === 'good' && state.reason === why && !state.isLost && !state.isForced) return;
    this.tellRoute(state, 'good', why);
  }

  /** `isFailure` where the value came but could not be carried. */
  routeFailed(
    routeId: string,
    reason: string,
    { isLost = false, isFailure = false, words }: { isLost?: boolean; isFailure?: boolean; words?: number[] } = {},
  ): void {
    const state = this.route(routeId);
    if (words) this.wrote(state, words, Date.now());
    if (isFailure) state.failures += 1;
    this.tellRoute(state, 'bad', reason, { isLost });
  }

  /** What a route wrote last; null before the first. */
  written(routeId: string): readonly number[] | null {
    return this.routes.get(routeId)?.writtenWords ?? null;
  }

  private route(routeId: string): RouteState {
    this.isTallied &&= this.routes.has(routeId);
    return ensure(this.routes, routeId, () => newRouteState(routeId));
  }

  /** A route is in order now, whether or not there was something to write. */
  private checked(routeId: string): number {
    const now = Date.now();
    this.checkedAt.set(routeId, now);
    this.freshAt(now);
    return now;
  }

  /** What was asked for at `sourceAtMs` is at the destination now; null where nobody knows when. */
  private arrived(state: RouteState, sourceAtMs: number | null, nowMs: number): void {
    const { routeId } = state;
    if (sourceAtMs !== null) ensure(this.ages, routeId, () => new AgeTracker()).arrived(sourceAtMs, nowMs);
    state.age = this.ages.get(routeId)?.age(nowMs) ?? null;
    state.sourceAtMs = sourceAtMs;
  }

  private wrote(state: RouteState, words: readonly number[], atMs: number): void {
    if (!state.writtenWords || !areSame(state.writtenWords, words)) state.writtenWords = [...words];
    state.writtenAtMs = atMs;
  }

  tried(request: PlannedRequest, outcome: RequestResult, ms: number, failure: string, isBehind = false): void {
    for (const counters of this.countersOf(request)) {
      countTry(counters, outcome, ms, isBehind);
      if (!failure) continue;
      counters.lastError = failure;
      counters.lastErrorAtMs = Date.now();
    }
  }

  /** An answer of this device came when nobody waited for it any more, so many ms after its question where that is known. */
  late(deviceId: string, afterMs: number | null): void {
    const counters = ensure(this.devices, deviceId, () => newCounters(deviceId));
    counters.late += 1;
    if (afterMs !== null) counters.worstLateMs = Math.max(counters.worstLateMs ?? 0, afterMs);
    counters.triesSinceLate = 0;
    this.changed.devices.add(deviceId);
  }

  /** How long a device takes to answer, ms; 0 before it has. */
  meanMs(deviceId: string): number {
    return this.devices.get(deviceId)?.meanMs ?? 0;
  }

  missed(request: PlannedRequest, times: number): void {
    if (times > 0) for (const counters of this.countersOf(request)) counters.missed += times;
  }

  restarted(request: PlannedRequest): void {
    for (const counters of this.countersOf(request)) counters.restarts += 1;
  }

  /** What has changed, as it is now. */
  collect(plan: Plan): Batch {
    this.markStale(plan);
    const take = <T extends object>(ids: Set<string>, from: Map<string, T>): T[] => {
      const rows = [...ids].flatMap((id) => {
        const row = from.get(id);
        return row ? { ...row } : [];
      });
      ids.clear();
      return rows;
    };
    return {
      readings: take(this.changed.readings, this.readings),
      routes: take(this.changed.routes, this.routes),
      devices: take(this.changed.devices, this.devices),
      requests: take(this.changed.requests, this.requests),
      ...this.tallied(),
    };
  }

  /** How many routes fare how, where that is otherwise than it was told last. */
  private tallied(): Pick<Batch, 'tally'> {
    if (this.isTallied) return {};
    this.isTallied = true;
    const tally: Tally = {};
    for (const { quality } of this.routes.values()) tally[quality] = (tally[quality] ?? 0) + 1;
    const text = JSON.stringify(tally);
    if (text === this.tally) return {};
    this.tally = text;
    return { tally };
  }

  private markStale(plan: Plan): void {
    const now = Date.now();
    if (now < this.noneStaleBeforeMs) return;
    this.noneStaleBeforeMs = Infinity;
    for (const reading of this.readings.values()) {
      if (reading.quality !== 'good') continue;
      const period = this.periods.get(reading.pointId) ?? 0;
      const age = this.overdueBy(reading.atMs, limitFor(period), now);
      if (age === null) continue;
      reading.quality = 'stale';
      reading.reason = `Last read ${seconds(age)} ago; it is due every ${period} ms.`;
      this.tellReading(reading.pointId);
    }
    for (const route of plan.routes) {
      const state = this.routes.get(route.id);
      if (!state || !AGES.includes(state.quality)) continue;
      const age = this.overdueBy(this.checkedAt.get(route.id) ?? null, limitFor(route.periodMs), now);
      if (age === null) continue;
      this.tellRoute(state, 'stale', `Last written ${seconds(age)} ago; it is due every ${route.periodMs} ms.`, state);
    }
  }

  /** How old something is that is older than it may be; null for what is not, which is looked at again when it can be. */
  private overdueBy(atMs: number | null, limitMs: number, nowMs: number): number | null {
    const age = nowMs - (atMs ?? nowMs);
    if (age > limitMs) return age;
    this.noneStaleBeforeMs = Math.min(this.noneStaleBeforeMs, nowMs - age + limitMs);
    return null;
  }

  /** What came at this time becomes stale no earlier than the least time after it. */
  private freshAt(atMs: number): void {
    this.noneStaleBeforeMs = Math.min(this.noneStaleBeforeMs, atMs + STALE_AT_LEAST_MS);
  }

  private tellReading(pointId: string): void {
    if (!this.looked || this.looked.points.has(pointId)) this.changed.readings.add(pointId);
  }

  private tellRoute(
    state: RouteState,
    quality: Quality,
    reason: string | null,
    { isLost = false, isForced = false }: Partial<Pick<RouteState, 'isLost' | 'isForced'>> = {},
  ): void {
    this.isTallied &&= state.quality === quality;
    state.quality = quality;
    state.reason = reason;
    state.isLost = isLost;
    state.isForced = isForced;
    this.changedRoute(state.routeId);
  }

  private changedRoute(routeId: string): void {
    if (!this.looked || this.looked.routes.has(routeId)) this.changed.routes.add(routeId);
  }

  private countersOf(request: PlannedRequest): Counters[] {
    const { deviceId, id, also } = request;
    const ids = also ? [id, also.id] : [id];
    this.changed.devices.add(deviceId);
    for (const own of ids) if (!this.looked || this.looked.requests.has(own)) this.changed.requests.add(own);
    return [
      ensure(this.devices, deviceId, () => newCounters(deviceId)),
      ...ids.map((own) => ensure(this.requests, own, () => newCounters(own, newPace()))),
    ];
  }
}

function newReading(pointId: string): Reading {
  return { pointId, words: null, quality: 'bad', reason: null, atMs: null };
}

function newRouteState(routeId: string): RouteState {
  return {
    routeId,
    quality: 'bad',
    reason: null,
    writtenWords: null,
    writtenAtMs: null,
    sourceAtMs: null,
    age: null,
    failures: 0,
    isLost: false,
    isForced: false,
  };
}

function ensure<T>(map: Map<string, T>, id: string, make: () => T): T {
  const known = map.get(id);
  if (known) return known;
  const made = make();
  map.set(id, made);
  return made;
}

function limitFor(periodMs: number): number {
  return Math.max(STALE_AT_LEAST_MS, STALE_PERIODS * periodMs);
}

function seconds(ms: number): string {
  return `${(ms / 1000).toFixed(1)} s`;
}
