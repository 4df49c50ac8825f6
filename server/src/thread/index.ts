export { Thread, type ThreadLimits, type ThreadSentences } from './thread.js';
export { answerTasks, type Reached } from './answer-tasks.js';
