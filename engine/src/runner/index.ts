export { type TripWish } from './round-trip.js';
export { Runner, type OpenEndpoint } from './runner.js';
