export { ask, type Ask, type RequestResult } from './client.js';
