import { bookOf, chapterOf } from '@plain-envoy/core/book';
import '@plain-envoy/core/re2';
import { answerTasks, type Reached } from '../../thread/index.js';
import { type DocumentFile, writeDocument } from '../documents/index.js';
import type { Answers, Task } from './tasks.js';

/** A thread that makes books. */
answerTasks(answer);

/** Of the whole, a chapter counts as one, and writing the book in a format as much as a hundred of them. */
const WRITING = 100;

async function answer(task: Task, tell: (reached: Reached) => void): Promise<Answers[Task['kind']]> {
  const { file, lineIds } = task;
  if (task.kind === 'chapter') return chapterOf(file, task.chapter, lineIds);
  const { formats, stem } = task;
  const { chapters } = file.document.project.book;
  const total = chapters.length + WRITING * formats.length;
  const book = bookOf(file, lineIds, (done) => tell({ done, total }));
  const files: DocumentFile[] = [];
  let told = chapters.length;
  for (const [index, format] of formats.entries()) {
    const onProgress = (part: number) => {
      const done = chapters.length + Math.floor(WRITING * (index + part));
      if (done > told) tell({ done, total });
      told = Math.max(told, done);
    };
    files.push(await writeDocument('book', format, stem, { book, onProgress }));
  }
  return files;
}
