export { progressOf } from './progress.js';
