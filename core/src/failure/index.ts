export { type Failure, type FailureCode, FailureError, type FailureGroup } from './failure.js';
export { failureError, failureFrom, groupOf, sentenceOf } from './sentences.js';
