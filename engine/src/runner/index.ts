export { Runner, type Dial } from './runner.js';
export { type Batch, type Counters, type Quality, type Reading, type RouteState } from './report.js';
