export { type Cause, type Seen } from './case.js';
export { diagnose, type Diagnosis } from './diagnose.js';
