export { bad, good, type Outcome, type Problem } from './outcome.js';
export { schemaProblem } from './schema-problem.js';
