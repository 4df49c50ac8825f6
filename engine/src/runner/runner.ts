import type { Batch } from '@plain-envoy/core/feed';
import { GATEWAY_TARGET_FAILED } from '@plain-envoy/core/frame';
import type { Endpoint, Plan, PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import { masksOf, wordsFor } from '@plain-envoy/core/route';
import { ask, type Outcome } from '../client/index.js';
import type { ClientTransport } from '../transport/index.js';
import { BackOff } from './back-off.js';
import { EndpointQueue } from './endpoint-queue.js';
import { explainFailure } from './explain.js';
import { Ledger } from './ledger.js';
import { RouteRun } from './route-run.js';
import { type Piece, writePieces, type Write } from './write-pieces.js';

/** A request as it is being run: when it is due next, and what it still waits for. */
interface Job {
  request: PlannedRequest;
  endpoint: Endpoint;
  dueAt: number;
  /** Waits or runs; a release that comes meanwhile is missed. */
  busy: boolean;
  /** For a write: the reads of this release that have not ended yet. */
  awaiting: Set<string>;
  /** For a write: the reads that it waits for each time. */
  fedBy: readonly string[];
  /** For a write: the routes whose values it carries, and those whose validity it tells. */
  routes: PlannedRoute[];
  validOf: PlannedRoute[];
}

interface Connection {
  endpoint: Endpoint;
  transport: ClientTransport;
  queue: EndpointQueue;
}

/** Opens the way to an endpoint. */
export type Dial = (endpoint: Endpoint) => ClientTransport;

/**
 * Runs a plan as compiled and never improvises: each read is released every period, each write when the reads that feed it
 * have ended, and goes out with what they brought. A plan that replaces another keeps values and counters of what stays.
 */
export class Runner {
  private readonly jobs = new Map<string, Job>();
  private readonly connections = new Map<string, Connection>();
  private readonly backOffs = new Map<string, BackOff>();
  private readonly ledger = new Ledger();
  private readonly runs = new Map<string, RouteRun>();
  private plan: Plan = { endpoints: [], requests: [], routes: [] };
  private watched: Pick<Plan, 'endpoints' | 'requests'> = { endpoints: [], requests: [] };
  private writesFedBy = new Map<string, Job[]>();
  private timer: NodeJS.Timeout | null = null;
  private running = false;

  constructor(private readonly dial: Dial) {}

  start(plan: Plan): void {
    this.running = true;
    this.load(plan);
  }

  stop(): void {
    this.running = false;
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    for (const { transport, queue } of this.connections.values()) {
      queue.clear();
      transport.close();
    }
    this.connections.clear();
    this.jobs.clear();
    this.backOffs.clear();
    this.runs.clear();
    this.ledger.clear();
  }

  /** Takes over a newly compiled plan; what is the same in both goes on undisturbed. */
  load(plan: Plan): void {
    this.plan = plan;
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

  /** What has changed since the last call. */
  collect(): Batch {
    return this.ledger.collect(this.plan);
  }

  private arrange(): void {
    if (!this.running) return;
    this.connect([...this.plan.endpoints, ...this.watched.endpoints]);
    const requests = [...this.plan.requests, ...this.watched.requests];
    const wanted = new Set(requests.map((request) => request.id));
    for (const id of [...this.jobs.keys()]) if (!wanted.has(id)) this.jobs.delete(id);
    const now = performance.now();
    for (const request of requests) {
      const endpoint = this.connections.get(request.endpointId)!.endpoint;
      const job = this.jobs.get(request.id);
      if (job) Object.assign(job, { request, endpoint });
      else
        this.jobs.set(request.id, { request, endpoint, dueAt: now, busy: false, awaiting: new Set(), fedBy: [], routes: [], validOf: [] });
    }
    this.tieWritesToReads();
    this.ledger.keepPoints(requests);
    this.tick();
  }

  private connect(endpoints: readonly Endpoint[]): void {
    const byId = new Map(endpoints.map((endpoint) => [endpoint.id, endpoint]));
    for (const [id, connection] of this.connections) {
      const next = byId.get(id);
      if (next && JSON.stringify(next) === JSON.stringify(connection.endpoint)) continue;
      connection.queue.clear();
      connection.transport.close();
      this.connections.delete(id);
      for (const job of this.jobs.values()) if (job.request.endpointId === id) job.busy = false;
    }
    for (const endpoint of byId.values()) {
      if (this.connections.has(endpoint.id)) continue;
      this.connections.set(endpoint.id, { endpoint, transport: this.dial(endpoint), queue: new EndpointQueue(endpoint.concurrent) });
    }
  }

  private tieWritesToReads(): void {
    this.writesFedBy = new Map();
    const [carrying, telling] = [new Map<string, PlannedRoute[]>(), new Map<string, PlannedRoute[]>()];
    const add = (map: Map<string, PlannedRoute[]>, key: string, route: PlannedRoute) => {
      const known = map.get(key);
      if (known) known.push(route);
      else map.set(key, [route]);
    };
    for (const route of this.plan.routes) {
      add(carrying, route.writeId, route);
      if (route.valid) add(telling, route.valid.writeId, route);
    }
    for (const job of this.jobs.values()) {
      if (job.request.kind !== 'write') continue;
      job.routes = carrying.get(job.request.id) ?? [];
      job.validOf = telling.get(job.request.id) ?? [];
      const routes = [...job.routes, ...job.validOf];
      job.fedBy = [...new Set(routes.flatMap(({ readId, alsoReadIds }) => [readId, ...alsoReadIds]))];
      job.awaiting = new Set(job.fedBy);
      for (const read of job.fedBy) {
        const fed = this.writesFedBy.get(read);
        if (fed) fed.push(job);
        else this.writesFedBy.set(read, [job]);
      }
    }
  }

  /** Releases every read that is due and sleeps until the next one is. */
  private tick(): void {
    if (this.timer) clearTimeout(this.timer);
    const now = performance.now();
    let next = Infinity;
    for (const job of this.jobs.values()) {
      if (job.request.kind === 'write') continue;
      if (job.dueAt <= now) {
        this.release(job, job.dueAt);
        const periods = Math.floor((now - job.dueAt) / job.request.periodMs);
        this.ledger.missed(job.request, periods);
        job.dueAt += (periods + 1) * job.request.periodMs;
      }
      next = Math.min(next, job.dueAt);
    }
    if (next < Infinity) this.timer = setTimeout(() => this.tick(), Math.max(0, next - performance.now()));
  }

  private release(job: Job, releasedAt: number): void {
    const { request } = job;
    if (job.busy) return this.ledger.missed(request, 1);
    if (this.backOffOf(request.deviceId).rests(performance.now())) {
      if (request.kind !== 'write') this.readEnded(job, releasedAt);
      for (const route of job.routes) {
        this.ledger.routeFailed(route.id, `${request.deviceName} does not answer, so nothing is written to it until it is tried again.`);
      }
      return;
    }
    const connection = this.connections.get(request.endpointId)!;
    job.busy = true;
    connection.queue.add({
      priority: request.priority,
      releasedAt,
      run: async () => {
        try {
          if (!this.isCurrent(job)) return;
          if (request.kind === 'write') await this.write(job, connection);
          else await this.read(job, connection, releasedAt);
        } finally {
          job.busy = false;
        }
      },
    });
  }

  private async read(job: Job, connection: Connection, releasedAt: number): Promise<void> {
    const outcome = await this.ask(job, connection, job.request);
    if (!this.isCurrent(job)) return;
    if (outcome.kind === 'values') this.ledger.read(job.request, outcome.values);
    else this.ledger.failed(job.request, explainFailure(outcome, job.request, job.endpoint));
    this.readEnded(job, releasedAt);
  }

  private readEnded(read: Job, releasedAt: number): void {
    for (const write of this.writesFedBy.get(read.request.id) ?? []) {
      write.awaiting.delete(read.request.id);
      if (write.awaiting.size > 0) continue;
      write.awaiting = new Set(write.fedBy);
      this.release(write, releasedAt);
    }
  }

  /** Writes what the sources have now. A register whose source is bad is left as it is at the destination. */
  private async write(job: Job, connection: Connection): Promise<void> {
    const pieces = [...job.routes.flatMap((route) => this.pieceOf(route)), ...this.validPieces(job)];
    if (pieces.length === 0) return;
    const done = await writePieces(job.request, pieces, (part) => this.ask(job, connection, part));
    if (!this.isCurrent(job)) return;
    for (const { piece, outcome } of done) {
      if (outcome.kind === 'written') piece.written();
      else piece.failed(explainFailure(outcome, job.request, job.endpoint));
    }
  }

  /** What a route wants written now; nothing where it holds its value or has none. */
  private pieceOf(route: PlannedRoute): Piece[] {
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

  private async ask(job: Job, connection: Connection, part: Write): Promise<Outcome> {
    const { request, endpoint } = job;
    const { functionCode, offset, count, values } = part;
    const { unitId, timeoutMs, tries } = request;
    const outcome = await ask(
      connection.transport,
      { functionCode, offset, count, ...(values ? { values } : {}), unitId, timeoutMs, tries },
      (tried, ms) => {
        if (this.isCurrent(job)) this.ledger.tried(request, tried, ms, explainFailure(tried, request, endpoint));
      },
    );
    if (this.isCurrent(job)) {
      const backOff = this.backOffOf(request.deviceId);
      if (isSilence(outcome)) backOff.failed(performance.now());
      else backOff.answered();
    }
    return outcome;
  }

  /** False once the bench was stopped, or a newer plan has dropped the request, while its answer was on the way. */
  private isCurrent(job: Job): boolean {
    return this.jobs.get(job.request.id) === job;
  }

  private backOffOf(deviceId: string): BackOff {
    const known = this.backOffs.get(deviceId) ?? new BackOff();
    this.backOffs.set(deviceId, known);
    return known;
  }
}

function isSilence(outcome: Outcome): boolean {
  if (outcome.kind === 'exception') return outcome.code === GATEWAY_TARGET_FAILED;
  return outcome.kind === 'no response' || outcome.kind === 'not connected' || outcome.kind === 'corrupt';
}
