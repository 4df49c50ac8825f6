export { bookHtml } from './html.js';
export { bookPdf } from './pdf.js';
export { bookWorkbook } from './workbook.js';
