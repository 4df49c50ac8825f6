import { Worker } from 'node:worker_threads';
import { inBackground } from '@plain-envoy/engine/background';
import { refuse } from '../problem/index.js';
import type { Answer, Reached } from './answer-tasks.js';

export interface ThreadLimits {
  /** How long one task may take without telling that it has come further, ms. */
  taskMs: number;
  /** How much a thread may hold, MB. */
  memoryMb: number;
  /** Room for what is made and let go again at once, MB; more of it makes work with very many small things faster. */
  youngMb?: number;
}

/** Why a thread gave up, in words for whoever asked. */
export interface ThreadSentences {
  tooMuch(memoryMb: number): string;
  tooLong(seconds: number): string;
  broke(why: string): string;
  /** It was closed while it worked. */
  over: string;
}

/** Work in a thread of its own, so that it holds nobody else up. What takes too long, or more memory than there is for it, is given up with a sentence. */
export class Thread<Task extends { kind: string }, Answers extends { [Kind in Task['kind']]: unknown }> {
  private readonly worker: Worker;
  private why: string | null = null;

  constructor(
    script: URL,
    private readonly limits: ThreadLimits,
    private readonly sentences: ThreadSentences,
  ) {
    this.worker = new Worker(script, {
      resourceLimits: { maxOldGenerationSizeMb: limits.memoryMb, maxYoungGenerationSizeMb: limits.youngMb },
    });
    this.worker.on('error', (error: NodeJS.ErrnoException) => {
      this.why ??= error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? sentences.tooMuch(limits.memoryMb) : sentences.broke(error.message);
    });
  }

  /** Refuses with 422 where the thread gave up. */
  async ask<K extends Task['kind']>(task: Extract<Task, { kind: K }>, tell?: (reached: Reached) => void): Promise<Answers[K]> {
    if (this.why) refuse('does-not-fit', this.why);
    const { worker, limits } = this;
    const answered = new Promise<Answers[K]>((done, failed) => {
      const end = (act: () => void) => {
        clearTimeout(late);
        worker.off('message', message);
        worker.off('exit', exit);
        act();
      };
      const message = ({ value, error, reached }: Answer) => {
        if (reached) {
          late.refresh();
          tell?.(reached);
        } else {
          end(() => (error === undefined ? done(value as Answers[K]) : failed(new Error(error))));
        }
      };
      const exit = () => end(() => failed(new Error(this.why ?? 'The thread ended.')));
      const late = setTimeout(() => {
        this.why = this.sentences.tooLong(limits.taskMs / 1000);
        inBackground(worker.terminate());
      }, limits.taskMs);
      worker.on('message', message);
      worker.once('exit', exit);
    });
    worker.postMessage(task);
    return answered.catch((error: unknown) => refuse('does-not-fit', this.why ?? (error as Error).message));
  }

  close(): void {
    this.why ??= this.sentences.over;
    inBackground(this.worker.terminate());
  }
}
