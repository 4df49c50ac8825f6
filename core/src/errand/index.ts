export { meets, whyNotCompared } from './meets.js';
export { blankErrandStep, comparisonNames, describeErrandStep, stepKindNames } from './describe.js';
export { type ErrandRun, type StepRun } from './run.js';
