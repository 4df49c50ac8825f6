export { failureText } from './failure-text.js';
export { ask, type Ask, type RequestResult } from './client.js';
