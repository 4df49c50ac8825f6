export { progressOf } from './progress.js';
export { sideBySide } from './side-by-side.js';
export { Waiting } from './waiting.js';
