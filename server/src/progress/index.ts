export { progressOf } from './progress.js';
export { Waiting } from './waiting.js';
