export { failureOf, type TripWish } from './round-trip.js';
export { Runner, type Dial } from './runner.js';
