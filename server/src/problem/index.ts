export { ProblemError, refuse } from './problem.js';
