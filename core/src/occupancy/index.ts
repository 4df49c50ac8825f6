export { occupancy } from './occupancy.js';
export { requestTimeMs, serialLinesOf, type TimedRequest } from './request-time.js';
