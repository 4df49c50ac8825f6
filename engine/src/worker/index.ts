export { EngineEnded, EngineHost } from './host.js';
export type { TracePart } from './messages.js';
