export { Reader, type ReaderLimits } from './reader.js';
export type { Mapped } from './tasks.js';
