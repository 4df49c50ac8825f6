export { Id, Name, Note } from './common.js';
