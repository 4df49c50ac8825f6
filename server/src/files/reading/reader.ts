import { Thread, type ThreadLimits, type ThreadSentences } from '../../thread/index.js';
import type { Answers, Task } from './tasks.js';

const usual: ThreadLimits = { taskMs: 30_000, memoryMb: 1024 };
const sentences: ThreadSentences = {
  tooMuch: (memoryMb) => `It holds more than ${memoryMb} MB once it is read, which is more than a register map has.`,
  tooLong: (seconds) => `Reading it took longer than ${seconds} s, so it was given up.`,
  broke: (why) => `It could not be read: ${why}`,
  over: 'This import is over.',
};

/** Reads one file in a thread of its own, whatever is in it. */
export class Reader extends Thread<Task, Answers> {
  constructor(limits = usual) {
    super(new URL('./thread.js', import.meta.url), limits, sentences);
  }
}
