export { type DocumentFile, documentMenus, idsOf, writeDocument } from './list.js';
export { csvFile, FORMULA } from './spreadsheet.js';
