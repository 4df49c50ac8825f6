export { type FieldKind, type FieldValue } from './definition.js';
export { fieldKinds, kindOf } from './list.js';
