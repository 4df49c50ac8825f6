export { Id, Name, Note } from './common.js';
export { namesOf } from './names-of.js';
export { joined, padded } from './bytes.js';
