import type { FindingCounts } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { Worker } from 'node:worker_threads';
import { inBackground } from '@plain-envoy/engine/background';
import type { Held } from './store.js';

const REST_MS = 10_000;

/** How many findings each project has, worked out in a thread of its own, one project after the other, when somebody wants to know. */
export class Judgements {
  private readonly known = new Map<string, { revision: number; counts: FindingCounts }>();
  private readonly wanted = new Set<string>();
  private worker: Worker | null = null;
  private rest: NodeJS.Timeout | null = null;
  private isBusy = false;
  private hasEnded = false;

  /** `read` gives a project as it is now. */
  constructor(private readonly read: (projectId: string) => Promise<Held>) {}

  /** Null where it is not known yet; it will be soon. */
  of(projectId: string, revision: number): FindingCounts | null {
    const known = this.known.get(projectId);
    if (known?.revision === revision) return known.counts;
    this.wanted.add(projectId);
    if (!this.isBusy) inBackground(this.work());
    return null;
  }

  end(): void {
    this.hasEnded = true;
    this.close();
  }

  private async work(): Promise<void> {
    this.isBusy = true;
    if (this.rest) clearTimeout(this.rest);
    // Who asked is answered first.
    await new Promise((done) => setImmediate(done));
    for (const projectId of this.wanted) {
      this.wanted.delete(projectId);
      if (this.hasEnded) break;
      // What cannot be opened just now is asked for again when it is looked at again.
      const held = await this.read(projectId).catch(() => null);
      if (!held) continue;
      const counts = await this.judge(held.document);
      if (counts) this.known.set(projectId, { revision: held.revision, counts });
    }
    this.isBusy = false;
    this.rest = setTimeout(() => this.close(), REST_MS).unref();
  }

  private judge(document: ProjectDocument): Promise<FindingCounts | null> {
    const worker = (this.worker ??= new Worker(new URL('./judging-thread.js', import.meta.url)));
    return new Promise((done) => {
      const end = (counts: FindingCounts | null) => {
        worker.off('message', end).off('error', failed).off('exit', failed);
        done(counts);
      };
      const failed = () => {
        this.worker = null;
        end(null);
      };
      worker.on('message', end).on('error', failed).on('exit', failed);
      worker.postMessage(document);
    });
  }

  private close(): void {
    const { worker } = this;
    this.worker = null;
    if (worker) inBackground(worker.terminate());
  }
}
