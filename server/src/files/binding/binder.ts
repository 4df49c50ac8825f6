import { Thread, type ThreadLimits, type ThreadSentences } from '../../thread/index.js';
import type { Answers, Task } from './tasks.js';

/** The pages of a large book are laid out in one go, in which nothing is told. */
const limits: ThreadLimits = { taskMs: 180_000, memoryMb: 2048, youngMb: 256 };
const sentences: ThreadSentences = {
  tooMuch: (memoryMb) => `The book takes more than ${memoryMb} MB while it is made. Leave chapters out.`,
  tooLong: (seconds) => `Its pages were not laid out after ${seconds} s, so it was given up. Leave chapters out.`,
  broke: (why) => `The book could not be made: ${why}`,
  over: 'It was stopped.',
};

/** Makes a book, or a chapter of it, in a thread of its own. */
export class Binder extends Thread<Task, Answers> {
  constructor() {
    super(new URL('./thread.js', import.meta.url), limits, sentences);
  }
}
