import { compile, compileWatch, compileWrite, type HandWrite, type Plan } from '@plain-envoy/core/plan';
import type { Point, ProjectDocument } from '@plain-envoy/core/model';
import type { Batch, BenchState, TripEvent } from '@plain-envoy/core/feed';
import type { TraceFilter } from '@plain-envoy/core/trace';
import type { Found } from '@plain-envoy/engine/trace';
import { EngineHost, type TracePart } from '@plain-envoy/engine/worker';
import { failureOf } from '@plain-envoy/engine/runner';
import { z } from 'zod';
import { refuse } from '../problem.js';

export const AskTrips = z.strictObject({
  outId: z.uuid(),
  backId: z.uuid(),
  times: z.int('A whole number.').min(1, 'At least once.').max(1000, 'At most 1000 times.'),
});
export type AskTrips = z.infer<typeof AskTrips>;

const idle: BenchState = { running: false, projectId: null, sinceMs: null, stoppedBecause: null };
const emptyPlan: Plan = { endpoints: [], requests: [], routes: [] };

/** Where the plan runs: it hands the compiled plan to the engine's thread, follows every edit, and passes on what comes back. */
export class Bench {
  state: BenchState = idle;
  private engine: EngineHost | null = null;
  private tracedId: string | null = null;
  private document: ProjectDocument | null = null;
  private plan = emptyPlan;
  private watched: ReadonlySet<string> = new Set();

  constructor(
    private readonly standInsPort: number,
    private readonly onBatch: (batch: Batch) => void,
    private readonly onState: (state: BenchState) => void,
  ) {}

  run(document: ProjectDocument): void {
    if (this.state.running) this.stop();
    this.document = document;
    this.plan = compile(document).plan;
    this.engine ??= new EngineHost(this.onBatch, (error) => this.crashed(error));
    this.engine.start(this.plan, this.standInsPort);
    this.tracedId = document.project.id;
    this.look();
    this.enter({ running: true, projectId: document.project.id, sinceMs: Date.now(), stoppedBecause: null });
  }

  stop(): void {
    if (!this.state.running) return;
    this.engine?.stop();
    this.document = null;
    this.plan = emptyPlan;
    this.enter(idle);
  }

  /** Takes an edited project over while it runs. */
  edited(document: ProjectDocument): void {
    if (!this.state.running || this.state.projectId !== document.project.id) return;
    this.document = document;
    this.plan = compile(document).plan;
    this.engine?.load(this.plan);
    this.look();
  }

  /** The points that somebody looks at; those that the plan does not read anyway are fetched as well. */
  watch(pointIds: ReadonlySet<string>): void {
    this.watched = pointIds;
    this.look();
  }

  /** Writes a point of the running project once, by hand; refused where that cannot be. Resolves when its device has confirmed it. */
  async write(projectId: string, pointId: string, words: number[]): Promise<void> {
    const engine = this.engineFor(projectId);
    const write = this.handWrite(pointId, ['pointId']);
    if (words.length !== write.request.count)
      refuse(422, `The point takes ${write.request.count} registers; ${words.length} were given.`, ['words']);
    const outcome = await engine.write(write, words);
    if (outcome.kind !== 'written') refuse(502, `It was not written: ${failureOf(outcome)}.`);
  }

  /** Times a bit or a word out by one route and back by another. */
  trips(projectId: string, { outId, backId, times }: AskTrips): AsyncGenerator<TripEvent> {
    const engine = this.engineFor(projectId);
    const [out, back] = [outId, backId].map((id) => this.plan.routes.find((route) => route.id === id));
    if (!out) refuse(422, 'The way out is not carried just now.', ['outId']);
    if (!back) refuse(422, 'The way back is not carried just now.', ['backId']);
    if (!isTimed(out.source)) refuse(422, `${out.source.name} is no bit and no word of 16 bits, so it cannot be turned over.`, ['outId']);
    const write = this.handWrite(out.source.id, ['outId']);
    const withinMs = 2000 + 3 * (out.periodMs + back.periodMs);
    return engine.trips(outId, backId, write, { times, withinMs });
  }

  /** Exchanges of the project that ran last; none where the bench has not run it. */
  async trace(projectId: string, filter: TraceFilter, part: TracePart): Promise<Found> {
    if (!this.engine || this.tracedId !== projectId) return { kept: { first: 0, last: 0 }, matching: 0, records: [] };
    return this.engine.trace(filter, part);
  }

  async end(): Promise<void> {
    this.stop();
    await this.engine?.end();
  }

  private engineFor(projectId: string): EngineHost {
    if (!this.engine || !this.state.running || this.state.projectId !== projectId) refuse(409, 'The bench does not run this project.');
    return this.engine;
  }

  private handWrite(pointId: string, path: string[]): HandWrite {
    const point = this.document?.points.find(({ id }) => id === pointId) ?? refuse(404, 'This point is not in the project.', path);
    const write = compileWrite(this.document!, point);
    return write.ok ? write.value : refuse(422, write.problem.message, path);
  }

  private look(): void {
    if (this.document) this.engine?.watch(compileWatch(this.document, this.plan, this.watched));
  }

  private crashed(error: Error): void {
    this.engine = null;
    this.document = null;
    this.enter({ ...idle, stoppedBecause: `The engine stopped with an error of its own: ${error.message}` });
  }

  private enter(state: BenchState): void {
    this.state = state;
    this.onState(state);
  }
}

function isTimed({ type }: Point): boolean {
  return type === 'bit' || type === 'uint16' || type === 'int16' || type === 'bits';
}
