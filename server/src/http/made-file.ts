import type { MadeFileEvent } from '@plain-envoy/core/feed';
import type { DocumentFile } from '../files/index.js';
import { ProblemError } from '../problem/index.js';
import { progressOf } from '../progress/index.js';
import type { Reached } from '../thread/index.js';

/** How far a file is that is being made, and in the end the file; what is refused while it is made is told as why it failed. */
export async function* madeFile(make: (tell: (reached: Reached) => void) => Promise<DocumentFile>): AsyncGenerator<MadeFileEvent> {
  try {
    const steps = progressOf<Reached, DocumentFile>(make);
    let step = await steps.next();
    for (; !step.done; step = await steps.next()) yield { kind: 'progress', ...step.value };
    const { name, mediaType, body } = step.value;
    yield { kind: 'done', name, mediaType, base64: Buffer.from(body).toString('base64') };
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    yield { kind: 'failed', sentence: error.problem.message };
  }
}
