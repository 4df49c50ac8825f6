import { Thread, type ThreadLimits, type ThreadSentences } from '../../thread/index.js';
import type { Answers, Task } from './tasks.js';

/** With 150 devices the longest time in which nothing is told is some seconds. */
const limits: ThreadLimits = { taskMs: 60_000, memoryMb: 2048, youngMb: 256 };
const sentences: ThreadSentences = {
  tooMuch: (memoryMb) => `The book takes more than ${memoryMb} MB while it is made. Leave chapters out.`,
  tooLong: (seconds) => `The book came no further for ${seconds} s, so it was given up. Leave chapters out.`,
  broke: (why) => `The book could not be made: ${why}`,
  over: 'It was stopped.',
};

/** Makes a book, or a chapter of it, in a thread of its own. */
export class Binder extends Thread<Task, Answers> {
  constructor() {
    super(new URL('./thread.js', import.meta.url), limits, sentences);
  }
}
