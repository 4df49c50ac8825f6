export { type Compiled, compileSource } from './declarations.js';
