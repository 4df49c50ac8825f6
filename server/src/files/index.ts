export { type ExportFormat, exportFormats, exportMap } from './exports.js';
export { exportSheet, type SheetFormat, sheetFormats } from './sheet.js';
export { Imports, type Preview } from './imports.js';
export { exportTrace, peersOf, type TraceFormat, traceFormats } from './trace.js';
