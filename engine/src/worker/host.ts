import { Worker } from 'node:worker_threads';
import type { Plan } from '@plain-envoy/core/plan';
import type { Batch } from '@plain-envoy/core/feed';
import type { Command, Report } from './messages.js';

/** The engine as its host sees it: commands go in, batches come out, and it lives in a thread of its own. */
export class EngineHost {
  private readonly worker = new Worker(new URL('./thread.js', import.meta.url));

  constructor(onBatch: (batch: Batch) => void, onCrash: (error: Error) => void) {
    this.worker.on('message', (report: Report) => onBatch(report.batch));
    this.worker.on('error', onCrash);
  }

  start(plan: Plan, standInsPort: number): void {
    this.send({ type: 'start', plan, standInsPort });
  }

  load(plan: Plan): void {
    this.send({ type: 'plan', plan });
  }

  watch(part: Pick<Plan, 'endpoints' | 'requests'>): void {
    this.send({ type: 'watch', part });
  }

  stop(): void {
    this.send({ type: 'stop' });
  }

  async end(): Promise<void> {
    await this.worker.terminate();
  }

  private send(command: Command): void {
    this.worker.postMessage(command);
  }
}
