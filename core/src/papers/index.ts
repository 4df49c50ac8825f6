export { paperOf } from './papers.js';
