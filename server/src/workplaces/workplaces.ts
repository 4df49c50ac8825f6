import type { ToPage } from '@plain-envoy/core/feed';
import { inBackground } from '@plain-envoy/engine/background';
import { type Shared, Workplace } from './workplace.js';

/** So many in which nothing goes on are kept, with what their last run left; of more, those that rest longest are given up. */
const MAX_RESTING = 4;
const SWEEP_MS = 30_000;

/** The workplaces of the projects, each made when it is first wanted. */
export class Workplaces {
  /** Those that were used last come last. */
  private readonly open = new Map<string, Workplace>();
  private readonly timer = setInterval(() => this.sweep(), SWEEP_MS).unref();

  constructor(private readonly shared: Shared) {}

  of(projectId: string): Workplace {
    const workplace = this.open.get(projectId) ?? new Workplace(projectId, this.shared);
    this.open.delete(projectId);
    this.open.set(projectId, workplace);
    return workplace;
  }

  /** The same where there is one already. */
  there(projectId: string): Workplace | undefined {
    return this.open.get(projectId);
  }

  all(): Workplace[] {
    return [...this.open.values()];
  }

  /** Told to every page of every project. */
  tell(message: ToPage): void {
    for (const { live } of this.all()) live.tell(message);
  }

  /** Gives up what nobody uses. */
  sweep(): void {
    const resting = this.all().filter(({ isInUse }) => !isInUse);
    for (const { projectId } of resting.slice(0, Math.max(0, resting.length - MAX_RESTING))) inBackground(this.leave(projectId));
  }

  /** Ends what goes on around a project, with its stand-ins. */
  async leave(projectId: string): Promise<void> {
    const workplace = this.open.get(projectId);
    this.open.delete(projectId);
    await workplace?.leave();
    this.shared.projects.forget(projectId);
  }

  /** Writes down what runs. */
  async note(nowMs: number): Promise<void> {
    await Promise.all(this.all().map((workplace) => workplace.note(nowMs)));
  }

  async end(): Promise<void> {
    clearInterval(this.timer);
    await Promise.all(this.all().map((workplace) => workplace.end()));
  }
}
