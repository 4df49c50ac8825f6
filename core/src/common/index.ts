export { Id, isKept, Name, NOT_KEPT, Note } from './common.js';
export { FILE_VERSION, FileVersion } from './file-version.js';
export { namesOf } from './names-of.js';
export { areSameBytes, joined, padded } from './bytes.js';
export { hash } from './hash.js';
export { escapedMarkup } from './markup.js';
export { trimmedOf } from './trim.js';
export { middleOf } from './middle.js';
