export { type Source, type SourceEntry } from './definition.js';
export { readSource } from './list.js';
