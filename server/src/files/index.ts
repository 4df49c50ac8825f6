export { type ExportFormat, exportFormats, exportMap } from './exports.js';
export { Imports, type Preview } from './imports.js';
