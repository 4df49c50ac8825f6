export { workbookOf, workbookOfSheets } from './workbook-of.js';
