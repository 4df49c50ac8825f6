export { Archive, type Archived } from './archive.js';
export { EventMemory, type KeptEvent, lastsMs, type OutstationState } from './event-memory.js';
export { isNews, leavesBand } from './threshold.js';
export { type Times104, timesProblems, usualTimes } from './times.js';
