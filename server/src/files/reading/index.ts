export { Reader } from './reader.js';
export type { Mapped } from './tasks.js';
