export { Bench } from './bench.js';
