import { failureFrom } from '@plain-envoy/core/failure';
import { isDeepStrictEqual } from 'node:util';
import { Worker } from 'node:worker_threads';
import type { SerialSettings } from '@plain-envoy/core/line';
import type { Point } from '@plain-envoy/core/model';
import type { Plan, Target } from '@plain-envoy/core/plan';
import type { Batch, ListenedText, Looked, TripEvent } from '@plain-envoy/core/feed';
import type { TraceFilter, TraceEntry, TraceTrigger } from '@plain-envoy/core/trace';
import type { InquiryResult, RequestResult } from '../client/index.js';
import type { TripWish } from '../runner/index.js';
import type { Found } from '../trace/index.js';
import { lendSerialPort } from './lent-port.js';
import type { Command, Report, TracePart } from './messages.js';
import { planUpdate } from './plan-update.js';
import { type HandInquiry, type HandWrite } from '@plain-envoy/core/compile';
import { inBackground } from '../background/index.js';

/**
 * Room for what is made and let go again at once. What is copied when it is full is what is on its way just then, however large it is,
 * so that a larger one is emptied less often and as quickly.
 */
const YOUNG_MB = 32;

/** Somebody waited for the engine when its thread ended, by itself or because it was told to. */
export class EngineEnded extends Error {
  constructor() {
    super('The engine stopped before it had answered.');
  }
}

type Watched = Pick<Plan, 'endpoints' | 'requests'>;

/** Who waits for reports with one id: null tells that none will come. */
type Waiter = (report: Report | null) => void;

/** The engine as its host sees it: commands go in, batches and answers come out, and it lives in a thread of its own. */
export class EngineHost {
  private readonly worker = new Worker(new URL('./thread.js', import.meta.url), { resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MB } });
  private readonly waiting = new Map<number, Waiter>();
  private plan: Plan = { endpoints: [], requests: [], routes: [] };
  private watched: Watched = { endpoints: [], requests: [] };
  private looked: Looked | null = null;
  private asked = 0;
  private hasEnded = false;

  /** `adapterTo` says on which port of this machine an adapter to a simulated line is, once it is set like this; or rejects. */
  constructor(
    onBatch: (batch: Batch) => void,
    onCrash: (error: Error) => void,
    private readonly adapterTo: (lineId: string, settings: SerialSettings) => Promise<number>,
  ) {
    this.worker.on('message', (report: Report) => {
      if (report.type === 'batch') onBatch(report.batch);
      else if (report.type === 'open') inBackground(this.open(report));
      else this.waiting.get(report.id)?.(report);
    });
    this.worker.on('error', onCrash);
    this.worker.on('exit', () => {
      this.hasEnded = true;
      for (const hear of [...this.waiting.values()]) hear(null);
    });
  }

  start(plan: Plan, on: Target, standInsPort: number): void {
    this.plan = plan;
    this.send({ type: 'start', plan, on, standInsPort });
  }

  /** Only what has changed is told; where nothing has, the thread that polls is not troubled. */
  load(plan: Plan): void {
    const update = planUpdate(this.plan, plan);
    if (update) this.send({ type: 'plan', update });
    this.plan = plan;
  }

  /** Where the same is looked at as before, the thread that polls is not troubled either. */
  watch(part: Watched): void {
    if (isDeepStrictEqual(part, this.watched)) return;
    this.watched = part;
    this.send({ type: 'watch', part });
  }

  /** Tells of these alone from now on. */
  look(looked: Looked): void {
    if (isDeepStrictEqual(looked, this.looked)) return;
    this.looked = looked;
    this.send({ type: 'look', looked });
  }

  /** Writes a point once, by hand. As all that is asked here it rejects with `EngineEnded` where the thread ends meanwhile. */
  async write(write: HandWrite, words: number[]): Promise<RequestResult> {
    const report = await this.ask((id) => ({ type: 'write', id, write, words }));
    return (report as Extract<Report, { type: 'answered' }>).outcome;
  }

  /** Reads a point once, by hand. */
  async read(read: Omit<HandWrite, 'masks'>): Promise<RequestResult> {
    const report = await this.ask((id) => ({ type: 'read', id, read }));
    return (report as Extract<Report, { type: 'answered' }>).outcome;
  }

  /** Asks a device once about itself. */
  async inquire(inquiry: HandInquiry): Promise<InquiryResult> {
    const report = await this.ask((id) => ({ type: 'inquire', id, inquiry }));
    return (report as Extract<Report, { type: 'told' }>).outcome;
  }

  /** Keeps words at the destination of a route; null releases them. */
  force(routeId: string, words: number[] | null): void {
    this.send({ type: 'force', routeId, words });
  }

  /** Lets the trace begin or end by itself. */
  capture(trigger: TraceTrigger | null, point: Point | null): void {
    this.send({ type: 'capture', trigger, point });
  }

  /** Adds to the trace what went over lines that the engine does not see by itself. */
  passed(entries: Omit<TraceEntry, 'number'>[]): void {
    this.send({ type: 'passed', entries });
  }

  /** The exchanges that came after a number, for whoever follows all of them. */
  async traceSince(after: number | null, count: number): Promise<{ last: number; records: TraceEntry[] }> {
    return (await this.ask((id) => ({ type: 'trace-since', id, after, count }))) as Extract<Report, { type: 'traced-since' }>;
  }

  /** What was heard on lines of text that are listened to. */
  async texts(): Promise<ListenedText[]> {
    return ((await this.ask((id) => ({ type: 'texts', id }))) as Extract<Report, { type: 'listened' }>).texts;
  }

  /** Exchanges of the trace that match a filter. */
  async trace(filter: TraceFilter, part: TracePart): Promise<Found> {
    const report = await this.ask((id) => ({ type: 'trace', id, filter, part }));
    return (report as Extract<Report, { type: 'traced' }>).found;
  }

  /** Times a value out and back; whoever stops asking for the next ends it, and then the source is put back. */
  async *trips(outId: string, backId: string, write: HandWrite, wish: TripWish): AsyncGenerator<TripEvent> {
    const id = (this.asked += 1);
    const events: (TripEvent | null)[] = [];
    let wake: () => void = () => undefined;
    this.wait(id, (report) => {
      if (!report || report.type === 'trip') events.push(report?.event ?? null);
      wake();
    });
    this.send({ type: 'trips', id, outId, backId, write, wish });
    try {
      for (;;) {
        const event = events.shift();
        if (event === null) return;
        if (event) yield event;
        else await new Promise<void>((more) => (wake = more));
      }
    } finally {
      this.waiting.delete(id);
      this.send({ type: 'end-trips', id });
    }
  }

  stop(): void {
    this.send({ type: 'stop' });
  }

  async end(): Promise<void> {
    await this.worker.terminate();
  }

  /** Sends a command that is answered once. */
  private ask(command: (id: number) => Command): Promise<Report> {
    const id = (this.asked += 1);
    return new Promise((done, fail) => {
      this.wait(id, (report) => {
        this.waiting.delete(id);
        if (report) done(report);
        else fail(new EngineEnded());
      });
      this.send(command(id));
    });
  }

  private wait(id: number, hear: Waiter): void {
    this.waiting.set(id, hear);
    if (this.hasEnded) hear(null);
  }

  private async open({ id, to }: Extract<Report, { type: 'open' }>): Promise<void> {
    try {
      if (to.kind === 'adapter') return this.send({ type: 'opened', id, port: { adapter: await this.adapterTo(to.lineId, to.settings) } });
      const lent = await lendSerialPort(to.path, to.settings);
      this.worker.postMessage({ type: 'opened', id, port: { lent } } satisfies Command, [lent]);
    } catch (error) {
      this.send({ type: 'opened', id, port: { failure: failureFrom(error) } });
    }
  }

  private send(command: Command): void {
    this.worker.postMessage(command);
  }
}
