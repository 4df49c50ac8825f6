export { type DocumentFile, documentMenus, idsOf, writeDocument } from './list.js';
