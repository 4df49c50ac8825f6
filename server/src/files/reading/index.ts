export { Reader, type ReaderLimits } from './reader.js';
export type { Mapped, Reached } from './tasks.js';
