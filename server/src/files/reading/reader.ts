import { Worker } from 'node:worker_threads';
import { inBackground } from '@plain-envoy/engine/background';
import { refuse } from '../../problem/index.js';
import type { Answers, Reached, Task } from './tasks.js';

export interface ReaderLimits {
  /** How long one task may take without telling that it has come further, ms. */
  taskMs: number;
  /** How much a thread may hold, MB. */
  memoryMb: number;
}

const usual: ReaderLimits = { taskMs: 30_000, memoryMb: 1024 };

/**
 * Reads one file in a thread of its own, so that whatever is in it holds nobody else up. What takes too long, or more memory than
 * there is for it, is given up with a sentence.
 */
export class Reader {
  private readonly worker: Worker;
  private over: string | null = null;

  constructor(private readonly limits = usual) {
    this.worker = new Worker(new URL('./thread.js', import.meta.url), { resourceLimits: { maxOldGenerationSizeMb: limits.memoryMb } });
    this.worker.on('error', (error: NodeJS.ErrnoException) => {
      this.over ??=
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? `It holds more than ${this.limits.memoryMb} MB once it is read, which is more than a register map has.`
          : `It could not be read: ${error.message}`;
    });
  }

  /** Refuses with 422 where the thread gave the file up. */
  async ask<K extends Task['kind']>(task: Extract<Task, { kind: K }>, tell?: (reached: Reached) => void): Promise<Answers[K]> {
    if (this.over) refuse('does-not-fit', this.over);
    const { worker, limits } = this;
    const answered = new Promise<Answers[K]>((done, failed) => {
      const end = (act: () => void) => {
        clearTimeout(late);
        worker.off('message', message);
        worker.off('exit', exit);
        act();
      };
      const message = ({ value, error, reached }: { value: Answers[K]; error?: string; reached?: Reached }) => {
        if (reached) {
          late.refresh();
          tell?.(reached);
        } else {
          end(() => (error === undefined ? done(value) : failed(new Error(error))));
        }
      };
      const exit = () => end(() => failed(new Error(this.over ?? 'The thread ended.')));
      const late = setTimeout(() => {
        this.over = `Reading it took longer than ${limits.taskMs / 1000} s, so it was given up.`;
        inBackground(worker.terminate());
      }, limits.taskMs);
      worker.on('message', message);
      worker.once('exit', exit);
    });
    worker.postMessage(task);
    return answered.catch((error: unknown) => refuse('does-not-fit', this.over ?? (error as Error).message));
  }

  close(): void {
    this.over ??= 'This import is over.';
    inBackground(this.worker.terminate());
  }
}
