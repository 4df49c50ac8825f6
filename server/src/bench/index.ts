export { AskTrips, Bench } from './bench.js';
