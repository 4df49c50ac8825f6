export { AskFound } from './asked.js';
export { Looking } from './looking.js';
