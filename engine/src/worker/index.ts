export { EngineEnded, EngineHost } from './host.js';
export type { Bound, TracePart } from './messages.js';
