export { begin, type Begins } from './begin.js';
export { type Begun, beginnings } from './list.js';
