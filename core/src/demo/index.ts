export { fernhollow } from './fernhollow.js';
export { mendedFernhollow } from './mended.js';
