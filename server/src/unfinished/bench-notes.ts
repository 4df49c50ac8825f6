import type { BenchState } from '@plain-envoy/core/feed';
import type { BenchNote } from './take-up.js';
import type { Unfinished } from './unfinished.js';

/** Keeps written down what the bench runs, from what is heard of it. */
export class BenchNotes {
  private running: { projectId: string; note: BenchNote } | null = null;
  private hasEnded = false;

  constructor(
    private readonly unfinished: Unfinished,
    private readonly onError: (error: unknown) => void,
  ) {}

  take({ running, projectId, sinceMs, on, byItself }: BenchState): void {
    if (this.hasEnded || (running ? sinceMs === this.running?.note.sinceMs : this.running === null)) return;
    if (this.running && this.running.projectId !== projectId) this.write(this.running.projectId, null);
    this.running = running ? { projectId: projectId!, note: { on, sinceMs: sinceMs!, tookUp: byItself !== null, endedMs: null } } : null;
    if (this.running) this.write(this.running.projectId, this.running.note);
  }

  /** Plain Envoy is ended in good order: what runs now is not struck out any more, so that the next start can say so. */
  async end(nowMs: number): Promise<void> {
    this.hasEnded = true;
    if (this.running) await this.unfinished.note(this.running.projectId, 'bench', { ...this.running.note, endedMs: nowMs });
  }

  private write(projectId: string, note: BenchNote | null): void {
    this.unfinished.note(projectId, 'bench', note).catch(this.onError);
  }
}
