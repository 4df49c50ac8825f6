export { type TripWish } from './round-trip.js';
export { type OpenEndpoint } from './connections.js';
export { Runner } from './runner.js';
