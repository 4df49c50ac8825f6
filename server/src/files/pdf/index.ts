export { isPdf, type PdfFound, readPdf } from './document.js';
