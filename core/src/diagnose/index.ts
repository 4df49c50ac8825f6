export { type Cause, diagnose, type Diagnosis, type Seen } from './diagnose.js';
