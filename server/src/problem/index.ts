export { ProblemError, type RefusalCode, refusals, refuse } from './problem.js';
