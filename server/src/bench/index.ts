export { Bench, type BenchState } from './bench.js';
