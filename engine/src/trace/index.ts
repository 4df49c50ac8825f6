export { type Found, TraceRing } from './ring.js';
