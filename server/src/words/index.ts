export { Words } from './words.js';
