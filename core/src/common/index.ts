export { Id, isKept, Name, NOT_KEPT, Note } from './common.js';
export { namesOf } from './names-of.js';
export { areSameBytes, joined, padded } from './bytes.js';
export { hash } from './hash.js';
export { trimmedOf } from './trim.js';
