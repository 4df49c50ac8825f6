export { Archive, type Archived } from './archive.js';
export { EventMemory, type KeptEvent, lastsMs } from './event-memory.js';
export { isNews, leavesBand } from './threshold.js';
