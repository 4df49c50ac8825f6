export type { Seen } from './case.js';
export { type Cause, diagnose, type Diagnosis } from './diagnose.js';
export { diagnoseFrames } from './frames.js';
export { diagnoseLinks } from './links.js';
export { diagnoseTexts } from './texts.js';
export type { TellingTest } from './tests.js';
export { compareCounters, type Compared, type CountersSeen, type OurCounters, ourCounters } from './line-counters.js';
export { diagnoseStations } from './stations.js';
