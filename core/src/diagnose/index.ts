export { type Cause, type Seen } from './case.js';
export { diagnose, type Diagnosis } from './diagnose.js';
export { compareCounters, type Compared, type CountersSeen, type OurCounters, ourCounters } from './line-counters.js';
