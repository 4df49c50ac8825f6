import '@plain-envoy/core/formula';
import type { Batch, ListenedText, Looked, TripEvent } from '@plain-envoy/core/feed';
import { type HandInquiry, type HandWrite } from '@plain-envoy/core/compile';
import type { Point } from '@plain-envoy/core/model';
import type { Endpoint, Plan, PlannedRequest } from '@plain-envoy/core/plan';
import { jobsOf, runnerBackOff, Scheduler, type Start } from '@plain-envoy/core/schedule';
import type { TraceTrigger } from '@plain-envoy/core/trace';
import { ask, inquire, type InquiryResult, type RequestResult } from '../client/index.js';
import { failed, type Failed } from '../links/index.js';
import { TraceRing } from '../trace/index.js';
import { AwaitedValue } from './awaited-value.js';
import { type Command, Commands } from './commands.js';
import { type Connection, Connections, type OpenEndpoint } from './connections.js';
import { explainFailure, isSilence } from './explain.js';
import { type Job, jobOf, type Silence, silenceOf, sinceEpoch } from './job.js';
import { Ledger } from './ledger.js';
import { heardEntry, isAsked, probeRecord, recordOf, strayRecord } from './recording.js';
import { roundTrips, type TripWish } from './round-trip.js';
import { RouteWrites } from './route-writes.js';
import { exchangePieces, type Write, writePieces } from './write-pieces.js';
import { inBackground } from '../background/index.js';

/** A question that was sent so long ago and is not answered is in work no more, where its device is not known to take longer. */
const LEAST_WORK_MS = 100;

/**
 * Runs a plan as compiled and never improvises: the scheduler of core, which also makes the forecast, decides what goes next,
 * here by the real clock. Each read is released every period, each write when the reads that feed it have ended, and goes out
 * with what they brought. A plan that replaces another keeps values and counters of what stays.
 */
export class Runner {
  /** Everything that went over the wire lately. */
  readonly trace = new TraceRing();
  private readonly jobs = new Map<string, Job>();
  private readonly ledger = new Ledger();
  private readonly routes = new RouteWrites(this.ledger);
  private readonly commands = new Commands();
  private readonly connections: Connections;
  private awaited: AwaitedValue | null = null;
  /** Endpoints to which only a person or an errand goes. */
  private readonly guests = new Map<string, Endpoint>();
  private plan: Plan = { endpoints: [], requests: [], routes: [] };
  private watched: Pick<Plan, 'endpoints' | 'requests'> = { endpoints: [], requests: [] };
  private scheduler = this.newScheduler();
  private timer: NodeJS.Timeout | null = null;
  private running = false;
  private tracesTexts = true;

  constructor(open: OpenEndpoint) {
    this.connections = new Connections(open, {
      stray: (endpoint, frame, afterMs) => this.stray(endpoint, frame, afterMs),
      probe: (endpoint, frames, ms) => this.trace.add(probeRecord(frames, ms, endpoint)),
      // What a stand-in of telecontrol sends it tells itself, and nothing of what comes to it.
      text: (endpoint, bytes, way) =>
        void ((this.tracesTexts || (endpoint.via === 'station' && way === 'sent')) && this.trace.add(heardEntry(bytes, way, endpoint))),
    });
  }

  /** `tracesTexts`: what is heard on lines of text is not told by somebody else, who knows more of it. */
  start(plan: Plan, tracesTexts = true): void {
    this.tracesTexts = tracesTexts;
    this.trace.clear();
    this.running = true;
    this.load(plan);
  }

  stop(): void {
    this.running = false;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.connections.close();
    this.commands.giveUp();
    this.jobs.clear();
    this.scheduler = this.newScheduler();
    this.routes.clear();
    this.guests.clear();
    this.ledger.clear();
  }

  /** Takes over a newly compiled plan; what is the same in both goes on undisturbed. */
  load(plan: Plan): void {
    this.plan = plan;
    this.ledger.measureAnew();
    this.ledger.keepRoutes(plan.routes);
    this.routes.keep(plan.routes);
    this.arrange();
  }

  /** Fetches these points as well, because somebody looks at them. */
  watch(part: Pick<Plan, 'endpoints' | 'requests'>): void {
    this.watched = part;
    this.arrange();
  }

  /** Of what changes is told; without this of everything. */
  look(looked: Looked): void {
    this.ledger.look(looked);
  }

  /** What has changed since the last call. */
  collect(): Batch {
    return this.ledger.collect(this.plan);
  }

  /** What was heard on lines of text that are listened to. */
  texts(): ListenedText[] {
    return this.connections.texts();
  }

  /** Lets the trace begin or end by itself; `point` is the one whose value it waits for. */
  capture(trigger: TraceTrigger | null, point: Point | null): void {
    this.trace.arm(trigger);
    this.awaited = AwaitedValue.of(trigger, point);
  }

  /** Keeps these words at the destination of a route, each time it goes out, until they are released by null. */
  force(routeId: string, words: readonly number[] | null): void {
    this.routes.force(routeId, words);
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

  /** Asks a device once about itself, before everything that waits for its endpoint. Never rejects. */
  inquire({ endpoint, deviceId, ...question }: HandInquiry): Promise<InquiryResult> {
    const { functionCode } = question.ask;
    const told = { request: { id: null, unitId: question.unitId }, endpoint };
    return this.once<InquiryResult>(endpoint, deviceId, async ({ transport }) => {
      const outcome = await inquire(transport, question, (one, ms, frames) => {
        if (isAsked(told.endpoint)) this.trace.add(recordOf(one, ms, frames, told, { functionCode }));
      });
      return { outcome, silence: isSilence(outcome) ? question.tries : 0 };
    });
  }

  /** Has this done before everything that waits; resolves with how its last request ended. */
  private byHand(request: PlannedRequest, endpoint: Endpoint, steps: (asking: (part: Write) => Promise<RequestResult>) => Promise<void>) {
    return this.once<RequestResult>(endpoint, request.deviceId, async (connection) => {
      const job = jobOf(request, endpoint);
      let outcome: RequestResult = failed({ code: 'not-running' });
      await steps(async (part) => (outcome = await this.ask(job, connection, part)));
      return { outcome, silence: silenceOf(outcome, job) };
    });
  }

  /** Has this done at an endpoint before everything that waits there. Never rejects. */
  private once<Outcome extends { kind: string }>(
    endpoint: Endpoint,
    deviceId: string,
    doIt: (connection: Connection) => Promise<{ outcome: Outcome | Failed; silence: Silence }>,
  ): Promise<Outcome | Failed> {
    const notThere = failed({ code: 'not-running' });
    if (!this.running) return Promise.resolve(notThere);
    if (!this.connections.has(endpoint.id)) {
      this.guests.set(endpoint.id, endpoint);
      this.arrange();
    }
    return new Promise<Outcome | Failed>((done) => {
      const work = async (connection: Connection): Promise<Silence> => {
        const { outcome, silence } = await doIt(connection);
        done(outcome);
        return silence;
      };
      const id = this.commands.give({ endpointId: endpoint.id, work, giveUp: () => done(notThere) });
      this.scheduler.command({ id, laneId: endpoint.id, groupId: deviceId }, performance.now());
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
        arrival: (withinMs) => this.routes.arrival(backId, withinMs),
      },
      wish,
    );
  }

  private arrange(): void {
    if (!this.running) return;
    const endpoints = [...this.guests.values(), ...this.plan.endpoints, ...this.watched.endpoints];
    const requests = [...this.plan.requests, ...this.watched.requests];
    this.connections.follow(endpoints, (goneId) => {
      this.scheduler.drop(goneId);
      this.commands.giveUp(({ endpointId }) => endpointId === goneId);
    });
    this.arrangeJobs(requests);
    this.ledger.keepPoints(requests);
    const { jobs } = jobsOf({ endpoints, requests, routes: this.plan.routes });
    const lanes = this.connections.endpoints().map(({ id, concurrent }) => ({ id, concurrent }));
    this.scheduler.arrange(lanes, jobs, performance.now());
    this.goOn();
  }

  private arrangeJobs(requests: readonly PlannedRequest[]): void {
    const wanted = new Set(requests.map((request) => request.id));
    for (const id of [...this.jobs.keys()]) if (!wanted.has(id)) this.jobs.delete(id);
    for (const request of requests) {
      const { endpoint } = this.connections.to(request.endpointId);
      const job = this.jobs.get(request.id);
      if (job) Object.assign(job, { request, endpoint, routes: [], validOf: [] });
      else this.jobs.set(request.id, jobOf(request, endpoint));
    }
    for (const route of this.plan.routes) {
      this.jobs.get(route.writeId)!.routes.push(route);
      if (route.valid) this.jobs.get(route.valid.writeId)!.validOf.push(route);
    }
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

  private rested({ request, routes }: Job): void {
    for (const route of routes) {
      this.ledger.routeFailed(route.id, `${request.deviceName} does not answer, so nothing is written to it until it is tried again.`);
    }
  }

  private stray(endpoint: Endpoint, frame: Uint8Array, afterMs: number | null): void {
    const record = strayRecord(frame, afterMs, endpoint);
    this.trace.add(record);
    const asked = [...this.jobs.values()].find(({ request }) => request.endpointId === endpoint.id && request.unitId === record.unit);
    if (asked) this.ledger.late(asked.request.deviceId, afterMs);
  }

  /** Starts everything that may start now, and sleeps until something is due again. */
  private goOn(): void {
    if (!this.running) return;
    const now = performance.now();
    this.scheduler.release(now);
    for (const start of this.scheduler.take(now)) inBackground(this.run(start));
    if (this.timer) clearTimeout(this.timer);
    const next = this.scheduler.nextDueMs();
    this.timer = next < Infinity ? setTimeout(() => this.goOn(), Math.max(0, next - performance.now())) : null;
  }

  private async run(start: Start): Promise<void> {
    const { scheduler } = this;
    const command = this.commands.take(start.id);
    const silence = await (command ? this.runCommand(command) : this.runJob(this.jobs.get(start.id)!, start.isProbe));
    // What ends after a stop is nobody's any more.
    if (scheduler !== this.scheduler) return;
    scheduler.end(start, performance.now(), silence);
    this.goOn();
  }

  private runCommand({ endpointId, work }: Command): Promise<Silence> {
    return work(this.connections.to(endpointId));
  }

  private async runJob(job: Job, isProbe: boolean): Promise<Silence> {
    const connection = this.connections.to(job.request.endpointId);
    job.tries = isProbe ? 1 : job.request.tries;
    const fromMs = performance.now();
    const silence = await (job.request.kind === 'write' ? this.write(job, connection) : this.read(job, connection));
    if (silence !== null && this.isCurrent(job))
      this.ledger.ran(job.request, sinceEpoch(fromMs), sinceEpoch(performance.now()), silence > 0);
    return silence;
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
    if (outcome.kind !== 'values') return this.ledger.failed(request, explainFailure(outcome, request, endpoint));
    this.ledger.read(request, outcome.values, sinceEpoch(performance.now() - ms));
    const seen = this.awaited?.seenIn(request, outcome.values);
    if (seen) this.trace.fire(seen);
  }

  /** Writes what the sources have now. A register whose source is bad is left as it is at the destination. */
  private async write(job: Job, connection: Connection): Promise<Silence> {
    const pieces = this.routes.piecesOf(job);
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
    for (const { pieces: some, outcome } of done) {
      for (const piece of some) {
        if (outcome.kind === 'written') piece.written(outcome.isUnconfirmed ?? false);
        else piece.failed(explainFailure(outcome, job.request, job.endpoint));
      }
    }
    return silence;
  }

  private async ask(job: Job, connection: Connection, part: Write, onTry?: (ms: number) => void): Promise<RequestResult> {
    const { request, endpoint } = job;
    const { unitId, timeoutMs, broadcast } = request;
    const waitMs = broadcast?.waitMs ?? null;
    const own = { sentAt: performance.now() };
    const isInWork = () => {
      const workMs = Math.max(LEAST_WORK_MS, 2 * this.ledger.meanMs(request.deviceId));
      return [...connection.open].some((other) => other !== own && own.sentAt - other.sentAt < workMs);
    };
    let isBehind = isInWork();
    connection.open.add(own);
    const outcome = await ask(
      connection.transport,
      // What is copied comes last: an object that grows after it was copied is let go of late.
      { unitId, timeoutMs, tries: job.tries, turnaroundMs: waitMs, ...part },
      (tried, ms, frames) => {
        onTry?.(ms);
        if (isAsked(job.endpoint)) this.trace.add(recordOf(tried, ms, frames, job, part));
        const failure = explainFailure(tried, request, endpoint);
        if (this.isCurrent(job)) this.ledger.tried(request, tried, ms, failure, isBehind);
        own.sentAt = performance.now();
        isBehind = isInWork();
      },
    );
    connection.open.delete(own);
    return outcome;
  }

  /** False once the bench was stopped, or a newer plan has dropped the request, while its answer was on the way. */
  private isCurrent(job: Job): boolean {
    return this.jobs.get(job.request.id) === job;
  }
}
