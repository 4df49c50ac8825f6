export { Heap } from './heap.js';
export { type BackOffRule, type Job, type Lane, type Link, type Release, Scheduler, type Start, type Told } from './scheduler.js';
export { type Done, type Simulated, type Simulation, simulate, type Span } from './simulate.js';
export { jobsOf, runnerBackOff } from './jobs.js';
export { hyperperiod, type Pace, pacesOf, utilisations } from './pace.js';
