export { linkProgram } from './link-program.js';
