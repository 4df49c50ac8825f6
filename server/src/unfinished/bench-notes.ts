import { isDeepStrictEqual } from 'node:util';
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

  take({ running, projectId, sinceMs, on, byItself, byHand }: BenchState): void {
    const note = {
      on,
      sinceMs: sinceMs!,
      tookUp: byItself !== null,
      endedMs: null,
      byHand: byHand.map((row) => (row.kind === 'forced' ? `${row.name} forced to ${row.text}` : row.text)),
    };
    const before = this.running;
    if (this.hasEnded || (running ? isDeepStrictEqual(note, before?.note) : before === null)) return;
    if (before && before.projectId !== projectId) this.write(before.projectId, null);
    this.running = running ? { projectId: projectId!, note } : null;
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
