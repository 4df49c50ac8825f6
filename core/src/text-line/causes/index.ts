export { textCauses } from './list.js';
export { type TextCause } from './definition.js';
