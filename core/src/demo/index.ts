export { fernhollow } from './fernhollow.js';
