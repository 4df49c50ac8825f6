export type { StandardFunction } from './definition.js';
export { standardFunction, standardFunctions } from './list.js';
