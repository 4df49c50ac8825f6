export { describeReckoners, reckon, reckoners } from './registry.js';
export { type Reckoner } from './reckoner.js';
export { nearest } from './nearest.js';
