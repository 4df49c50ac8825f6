export { Heap } from './heap.js';
export {
  type BackOffRule,
  type Job,
  type Lane,
  type Link,
  type ReleaseRule,
  Scheduler,
  type Start,
  type SchedulerListener,
} from './scheduler.js';
export { type Done, type Simulated, type Simulation, simulate, type BusySpan } from './simulate.js';
export { jobsOf, runnerBackOff } from './jobs.js';
export { hyperperiod, type Pace, pacesOf, utilisations } from './pace.js';
