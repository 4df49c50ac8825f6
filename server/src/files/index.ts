export { type DocumentFile, documentMenus, idsOf } from './documents/index.js';
export {
  chapterOfBook,
  exportBook,
  exportLosses,
  exportMap,
  exportMapping,
  exportProgram,
  exportSheet,
  exportTrace,
  exportVariables,
} from './exports.js';
export { Imports } from './imports.js';
export { Reader } from './reading/index.js';
export { peersOf } from './peers.js';
export { packed } from './pack.js';
export { csvFile, FORMULA } from './documents/index.js';
