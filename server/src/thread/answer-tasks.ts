import { parentPort } from 'node:worker_threads';

/** How far a thread has come with what it was asked. */
export interface Reached {
  done: number;
  total: number;
}

/** What a thread answers to its host. */
export interface Answer {
  value?: unknown;
  error?: string;
  reached?: Reached;
}

/** Answers the tasks of this thread one by one; `tell` says how far it has come with one. */
export function answerTasks<Task>(answer: (task: Task, tell: (reached: Reached) => void) => Promise<unknown>): void {
  const say = (said: Answer) => parentPort!.postMessage(said);
  parentPort!.on('message', (task: Task) => {
    answer(task, (reached) => say({ reached })).then(
      (value) => say({ value }),
      (error: unknown) => say({ error: error instanceof Error ? error.message : String(error) }),
    );
  });
}
