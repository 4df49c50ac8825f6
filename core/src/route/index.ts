export { carryAcross } from './carry.js';
export { checkEnds, type EndsProblem } from './ends.js';
