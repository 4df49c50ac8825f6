export { type TripWish } from './round-trip.js';
export { type OpenEndpoint } from './connections.js';
export { Runner } from './runner.js';
export { explainFailure, isSilence } from './explain.js';
export { writePieces } from './write-pieces.js';
