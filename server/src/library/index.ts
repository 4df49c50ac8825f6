export { Library } from './library.js';
