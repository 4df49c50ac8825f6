import { compile, compileWatch, type Plan } from '@plain-envoy/core/plan';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Batch, BenchState } from '@plain-envoy/core/feed';
import { EngineHost } from '@plain-envoy/engine/worker';

const idle: BenchState = { running: false, projectId: null, sinceMs: null, stoppedBecause: null };
const emptyPlan: Plan = { endpoints: [], requests: [], routes: [] };

/** Where the plan runs: it hands the compiled plan to the engine's thread, follows every edit, and passes on what comes back. */
export class Bench {
  state: BenchState = idle;
  private engine: EngineHost | null = null;
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

  async end(): Promise<void> {
    this.stop();
    await this.engine?.end();
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
