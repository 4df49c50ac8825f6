export { type Endpoint, type Plan, type PlannedRequest, type PlannedRoute } from './plan.js';
export { compile, compileWatch } from './compile.js';
export { occupancy } from './occupancy.js';
export { frontOf } from './reach.js';
export { describeRequest } from './describe.js';
export { writeRuns, type WriteRun } from './write-runs.js';
