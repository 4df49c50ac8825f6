export { ask, type Ask, type Outcome } from './client.js';
