import type { Batch, TripEvent } from '@plain-envoy/core/feed';
import type { Endpoint, Plan, PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import { meets } from '@plain-envoy/core/errand';
import { type Comparison, type Point, valueText } from '@plain-envoy/core/model';
import { masksOf, wordsFor } from '@plain-envoy/core/route';
import { jobsOf, runnerBackOff, Scheduler, type Start } from '@plain-envoy/core/schedule';
import type { TraceTrigger } from '@plain-envoy/core/trace';
import { ask, type RequestResult } from '../client/index.js';
import { type ClientTransport, failed } from '../links/index.js';
import { explainFailure, isSilence } from './explain.js';
import { Ledger } from './ledger.js';
import { TraceRing } from '../trace/index.js';
import { recordOf, strayRecord } from './recording.js';
import { roundTrips, type TripWish } from './round-trip.js';
import { RouteRun } from './route-run.js';
import { exchangePieces, type Piece, writePieces, type Write } from './write-pieces.js';
import { type HandWrite } from '@plain-envoy/core/compile';

/** A request as it is being run. */
interface Job {
  request: PlannedRequest;
  endpoint: Endpoint;
  /** How often it is tried this time. */
  tries: number;
  /** For a write: the routes whose values it carries, and those whose validity it tells. */
  routes: PlannedRoute[];
  validOf: PlannedRoute[];
}

interface Connection {
  endpoint: Endpoint;
  transport: ClientTransport;
}

/** Something asked for by hand, once. */
interface Awaited {
  point: Point;
  is: Comparison;
  value: string;
}

interface Command {
  endpointId: string;
  work(connection: Connection): Promise<Silence>;
  giveUp(): void;
}

/** How many tries in a row brought no answer: 0 for an answer, null where nothing was asked. */
type Silence = number | null;

/** Opens the way to an endpoint. */
export type OpenEndpoint = (endpoint: Endpoint) => ClientTransport;

/**
 * Runs a plan as compiled and never improvises: the scheduler of core, which also makes the forecast, decides what goes next,
 * here by the real clock. Each read is released every period, each write when the reads that feed it have ended, and goes out
 * with what they brought. A plan that replaces another keeps values and counters of what stays.
 */
export class Runner {
  private readonly jobs = new Map<string, Job>();
  private readonly connections = new Map<string, Connection>();
  private readonly ledger = new Ledger();
  /** Everything that went over the wire lately. */
  readonly trace = new TraceRing();
  private readonly runs = new Map<string, RouteRun>();
  /** What a person wants at the destination of a route until they release it. */
  private readonly forced = new Map<string, readonly number[]>();
  /** The value that a capture waits for. */
  private awaited: Awaited | null = null;
  private readonly commands = new Map<string, Command>();
  private commandsGiven = 0;
  /** Who waits for what a route brings next. */
  private readonly arrivals = new Map<string, Set<(words: readonly number[]) => void>>();
  /** Endpoints to which only a person or an errand goes. */
  private readonly guests = new Map<string, Endpoint>();
  private plan: Plan = { endpoints: [], requests: [], routes: [] };
  private watched: Pick<Plan, 'endpoints' | 'requests'> = { endpoints: [], requests: [] };
  private scheduler = this.newScheduler();
  private timer: NodeJS.Timeout | null = null;
  private running = false;

  constructor(private readonly open: OpenEndpoint) {}

  start(plan: Plan): void {
    this.trace.clear();
    this.running = true;
    this.load(plan);
  }

  stop(): void {
    this.running = false;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    for (const { transport } of this.connections.values()) transport.close();
    this.connections.clear();
    this.giveUpCommands(() => true);
    this.jobs.clear();
    this.scheduler = this.newScheduler();
    this.runs.clear();
    this.guests.clear();
    this.forced.clear();
    this.ledger.clear();
  }

  /** Takes over a newly compiled plan; what is the same in both goes on undisturbed. */
  load(plan: Plan): void {
    this.plan = plan;
    this.ledger.measureAnew();
    this.ledger.keepRoutes(plan.routes);
    const kept = new Set(plan.routes.map(({ id }) => id));
    for (const id of [...this.runs.keys()]) if (!kept.has(id)) this.runs.delete(id);
    for (const route of plan.routes) {
      const run = this.runs.get(route.id);
      if (run) run.replace(route);
      else this.runs.set(route.id, new RouteRun(route, Date.now()));
    }
    this.arrange();
  }

  /** Fetches these points as well, because somebody looks at them. */
  watch(part: Pick<Plan, 'endpoints' | 'requests'>): void {
    this.watched = part;
    this.arrange();
  }

  /** Writes a point once, by hand, before everything that waits for its endpoint. Never rejects. */
  writeByHand({ request, endpoint, masks }: HandWrite, words: readonly number[]): Promise<RequestResult> {
    const piece = { table: request.table, offset: request.offset, words, masks, written: () => undefined, failed: () => undefined };
    return this.byHand(request, endpoint, async (asking) => {
      await writePieces(request, [piece], asking);
    });
  }

  /** Reads a point once, by hand, before everything that waits for its endpoint. Never rejects. */
  readByHand({ request, endpoint }: Omit<HandWrite, 'masks'>): Promise<RequestResult> {
    const { functionCode, offset, count } = request;
    return this.byHand(request, endpoint, async (asking) => {
      await asking({ functionCode, offset, count });
    });
  }

  /** Has this done before everything that waits; resolves with how its last request ended. */
  private byHand(request: PlannedRequest, endpoint: Endpoint, steps: (asking: (part: Write) => Promise<RequestResult>) => Promise<void>) {
    const notThere: RequestResult = failed({ code: 'not-running' });
    if (!this.running) return Promise.resolve(notThere);
    if (!this.connections.has(endpoint.id)) {
      this.guests.set(endpoint.id, endpoint);
      this.arrange();
    }
    return new Promise<RequestResult>((done) => {
      const job: Job = { request, endpoint, tries: request.tries, routes: [], validOf: [] };
      const id = `command ${(this.commandsGiven += 1)}`;
      const work = async (connection: Connection): Promise<Silence> => {
        let last: RequestResult = notThere;
        await steps(async (part) => (last = await this.ask(job, connection, part)));
        done(last);
        return silenceOf(last, job);
      };
      this.commands.set(id, { endpointId: endpoint.id, work, giveUp: () => done(notThere) });
      this.scheduler.command({ id, laneId: endpoint.id, groupId: request.deviceId }, performance.now());
      this.goOn();
    });
  }

  /** Times a value out by one route and back by another; both have to be carried just now. */
  trips(outId: string, backId: string, write: HandWrite, wish: TripWish): AsyncGenerator<TripEvent> {
    const source = this.plan.routes.find(({ id }) => id === outId)?.source;
    return roundTrips(
      {
        source: () => (source ? this.ledger.reading(source.id).words : null),
        write: (words) => this.writeByHand(write, words),
        arrival: (withinMs) => this.arrival(backId, withinMs),
      },
      wish,
    );
  }

  private arrival(routeId: string, withinMs: number): Promise<number | null> {
    const before = this.ledger.written(routeId);
    const waiting = this.arrivals.get(routeId) ?? new Set();
    this.arrivals.set(routeId, waiting);
    return new Promise((done) => {
      const end = (atMs: number | null) => {
        clearTimeout(timer);
        waiting.delete(hear);
        done(atMs);
      };
      const hear = (words: readonly number[]) => {
        if (words.some((word, index) => word !== before?.[index])) end(performance.now());
      };
      const timer = setTimeout(() => end(null), withinMs);
      waiting.add(hear);
    });
  }

  private giveUpCommands(which: (command: Command) => boolean): void {
    for (const [id, command] of this.commands) {
      if (!which(command)) continue;
      this.commands.delete(id);
      command.giveUp();
    }
  }

  /** What has changed since the last call. */
  collect(): Batch {
    return this.ledger.collect(this.plan);
  }

  private arrange(): void {
    if (!this.running) return;
    const endpoints = [...this.guests.values(), ...this.plan.endpoints, ...this.watched.endpoints];
    const requests = [...this.plan.requests, ...this.watched.requests];
    this.connect(endpoints);
    const wanted = new Set(requests.map((request) => request.id));
    for (const id of [...this.jobs.keys()]) if (!wanted.has(id)) this.jobs.delete(id);
    for (const request of requests) {
      const { endpoint } = this.connections.get(request.endpointId)!;
      const job = this.jobs.get(request.id);
      if (job) Object.assign(job, { request, endpoint });
      else this.jobs.set(request.id, { request, endpoint, tries: request.tries, routes: [], validOf: [] });
    }
    this.giveRoutesToWrites();
    this.ledger.keepPoints(requests);
    const { jobs } = jobsOf({ endpoints, requests, routes: this.plan.routes });
    const lanes = [...this.connections.values()].map(({ endpoint: { id, concurrent } }) => ({ id, concurrent }));
    this.scheduler.arrange(lanes, jobs, performance.now());
    this.goOn();
  }

  private newScheduler(): Scheduler {
    return new Scheduler(
      {
        missed: (id, times) => this.ledger.missed(this.jobs.get(id)!.request, times),
        rested: (id) => this.rested(this.jobs.get(id)!),
        restarted: (id) => this.ledger.restarted(this.jobs.get(id)!.request),
      },
      runnerBackOff,
    );
  }

  private connect(endpoints: readonly Endpoint[]): void {
    const byId = new Map(endpoints.map((endpoint) => [endpoint.id, endpoint]));
    for (const [id, connection] of this.connections) {
      const next = byId.get(id);
      if (next && JSON.stringify(next) === JSON.stringify(connection.endpoint)) continue;
      this.scheduler.drop(id);
      this.giveUpCommands(({ endpointId }) => endpointId === id);
      connection.transport.close();
      this.connections.delete(id);
    }
    for (const endpoint of byId.values()) {
      if (this.connections.has(endpoint.id)) continue;
      const transport = this.open(endpoint);
      transport.onStray = (frame) => this.stray(frame, endpoint);
      this.connections.set(endpoint.id, { endpoint, transport });
    }
  }

  private stray(frame: Uint8Array, endpoint: Endpoint): void {
    const record = strayRecord(frame, endpoint);
    this.trace.add(record);
    const asked = [...this.jobs.values()].find(({ request }) => request.endpointId === endpoint.id && request.unitId === record.unit);
    if (asked) this.ledger.late(asked.request.deviceId);
  }

  private giveRoutesToWrites(): void {
    for (const job of this.jobs.values()) {
      job.routes = [];
      job.validOf = [];
    }
    for (const route of this.plan.routes) {
      this.jobs.get(route.writeId)!.routes.push(route);
      if (route.valid) this.jobs.get(route.valid.writeId)!.validOf.push(route);
    }
  }

  /** Starts everything that may start now, and sleeps until something is due again. */
  private goOn(): void {
    if (!this.running) return;
    const now = performance.now();
    this.scheduler.release(now);
    for (const start of this.scheduler.take(now)) void this.run(start);
    if (this.timer) clearTimeout(this.timer);
    const next = this.scheduler.nextDueMs();
    this.timer = next < Infinity ? setTimeout(() => this.goOn(), Math.max(0, next - performance.now())) : null;
  }

  private async runCommand(start: Start, { endpointId, work }: Command): Promise<void> {
    const { scheduler } = this;
    this.commands.delete(start.id);
    const silence = await work(this.connections.get(endpointId)!);
    if (scheduler !== this.scheduler) return;
    scheduler.end(start, performance.now(), silence);
    this.goOn();
  }

  private async run(start: Start): Promise<void> {
    const command = this.commands.get(start.id);
    if (command) return this.runCommand(start, command);
    const job = this.jobs.get(start.id)!;
    const { scheduler } = this;
    const connection = this.connections.get(job.request.endpointId)!;
    job.tries = start.isProbe ? 1 : job.request.tries;
    const fromMs = performance.now();
    const silence = await (job.request.kind === 'write' ? this.write(job, connection) : this.read(job, connection));
    // What ends after a stop is nobody's any more.
    if (scheduler !== this.scheduler) return;
    const toMs = performance.now();
    if (silence !== null && this.isCurrent(job)) this.ledger.ran(job.request, sinceEpoch(fromMs), sinceEpoch(toMs), silence > 0);
    scheduler.end(start, toMs, silence);
    this.goOn();
  }

  private rested({ request, routes }: Job): void {
    for (const route of routes) {
      this.ledger.routeFailed(route.id, `${request.deviceName} does not answer, so nothing is written to it until it is tried again.`);
    }
  }

  private async read(job: Job, connection: Connection): Promise<Silence> {
    let lastMs = 0;
    const { functionCode, offset, count } = job.request;
    const outcome = await this.ask(job, connection, { functionCode, offset, count }, (ms) => (lastMs = ms));
    if (!this.isCurrent(job)) return null;
    this.takeAnswer(job, outcome, lastMs);
    return silenceOf(outcome, job);
  }

  /** What a read brought, `ms` after it was asked for. */
  private takeAnswer({ request, endpoint }: Job, outcome: RequestResult, ms: number): void {
    if (outcome.kind === 'values') {
      this.ledger.read(request, outcome.values, sinceEpoch(performance.now() - ms));
      if (this.awaited) this.lookFor(this.awaited, request, outcome.values);
    } else this.ledger.failed(request, explainFailure(outcome, request, endpoint));
  }

  /** Lets the trace begin or end by itself; `point` is the one whose value it waits for. */
  capture(trigger: TraceTrigger | null, point: Point | null): void {
    this.trace.arm(trigger);
    this.awaited = trigger?.on.kind === 'value' && point ? { point, is: trigger.on.is, value: trigger.on.value } : null;
  }

  private lookFor({ point, is, value }: Awaited, { points }: PlannedRequest, values: readonly number[]): void {
    const here = points.find(({ pointId }) => pointId === point.id);
    const words = here && values.slice(here.at, here.at + here.width);
    const met = words && meets(words, point, is, value);
    if (met?.ok && met.value) this.trace.fire(`${point.name} is ${valueText(words, point)}.`);
  }

  /** Writes what the sources have now. A register whose source is bad is left as it is at the destination. */
  private async write(job: Job, connection: Connection): Promise<Silence> {
    const pieces = [...job.routes.flatMap((route) => this.pieceOf(route)), ...this.validPieces(job)];
    let silence: Silence = null;
    let lastMs = 0;
    const asking = async (part: Write) => {
      const outcome = await this.ask(job, connection, part, (ms) => (lastMs = ms));
      silence = silenceOf(outcome, job);
      return outcome;
    };
    const { also } = job.request;
    const { done, read } = also
      ? await exchangePieces(job.request, also, pieces, asking)
      : { done: await writePieces(job.request, pieces, asking), read: null };
    if (!this.isCurrent(job)) return null;
    const along = also ? this.jobs.get(also.id) : undefined;
    if (read && along) this.takeAnswer(along, read, lastMs);
    for (const { piece, outcome } of done) {
      if (outcome.kind === 'written') piece.written();
      else piece.failed(explainFailure(outcome, job.request, job.endpoint));
    }
    return silence;
  }

  /** Keeps these words at the destination of a route, each time it goes out, until they are released by null. */
  force(routeId: string, words: readonly number[] | null): void {
    if (words) this.forced.set(routeId, words);
    else this.forced.delete(routeId);
  }

  private forcedPiece(route: PlannedRoute, words: readonly number[]): Piece {
    const { table, offset } = route.destination;
    return {
      ...{ table, offset, words, masks: masksOf(route) },
      written: () => this.ledger.routeForced(route.id, words),
      failed: (why) => this.ledger.routeFailed(route.id, why),
    };
  }

  /** What a route wants written now; nothing where it holds its value or has none. */
  private pieceOf(route: PlannedRoute): Piece[] {
    const forced = this.forced.get(route.id);
    if (forced) return [this.forcedPiece(route, forced)];
    const run = this.runs.get(route.id)!;
    const decision = run.decide((pointId) => this.ledger.reading(pointId), Date.now());
    if (decision.kind === 'hold') {
      this.ledger.routeHeld(route.id, decision.why);
      return [];
    }
    if (decision.kind === 'bad') {
      const { why, isFailure } = decision;
      this.ledger.routeFailed(route.id, why, { isFailure, isLost: run.isLost(Date.now()) });
      return [];
    }
    const { words, masks, sourceAtMs, isLoss } = decision;
    const { table, offset } = route.destination;
    return [
      {
        ...{ table, offset, words, masks },
        written: () => {
          run.written(decision);
          if (isLoss)
            this.ledger.routeFailed(route.id, `${route.source.name} is lost; ${route.loss.value} is written in its place.`, {
              isLost: true,
              words,
            });
          else this.ledger.routeWritten(route.id, words, sourceAtMs);
          for (const hear of this.arrivals.get(route.id) ?? []) hear(words);
        },
        failed: (why) => this.ledger.routeFailed(route.id, why),
      },
    ];
  }

  /** The bits and words that say whether values are good; one that several routes share is on while all of them are. */
  private validPieces({ validOf }: Job): Piece[] {
    const byPoint = new Map(validOf.map(({ valid }) => [valid!.point.id, valid!.point]));
    return [...byPoint.values()].flatMap((point) => {
      const isValid = validOf.every(({ id, valid }) => valid!.point.id !== point.id || this.runs.get(id)!.isValid(Date.now()));
      const words = wordsFor(isValid ? 1 : 0, { destination: point, transforms: [] });
      if (!words.ok) return [];
      const { table, offset } = point;
      const masks = masksOf({ destination: point, transforms: [] });
      return { ...{ table, offset, masks, words: words.value }, written: () => undefined, failed: () => undefined };
    });
  }

  private async ask(job: Job, connection: Connection, part: Write, onTry?: (ms: number) => void): Promise<RequestResult> {
    const { request, endpoint } = job;
    const { functionCode, offset, count, values, also } = part;
    const { unitId, timeoutMs } = request;
    return ask(
      connection.transport,
      { functionCode, offset, count, ...(values ? { values } : {}), ...(also ? { also } : {}), unitId, timeoutMs, tries: job.tries },
      (tried, ms, frames) => {
        onTry?.(ms);
        this.trace.add(recordOf(tried, ms, frames, job, part));
        if (this.isCurrent(job)) this.ledger.tried(request, tried, ms, explainFailure(tried, request, endpoint));
      },
    );
  }

  /** False once the bench was stopped, or a newer plan has dropped the request, while its answer was on the way. */
  private isCurrent(job: Job): boolean {
    return this.jobs.get(job.request.id) === job;
  }
}

/** A time of the performance clock in ms since 1970. */
function sinceEpoch(ms: number): number {
  return performance.timeOrigin + ms;
}

function silenceOf(outcome: RequestResult, { tries }: Job): number {
  return isSilence(outcome) ? tries : 0;
}
