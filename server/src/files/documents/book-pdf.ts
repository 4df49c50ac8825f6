import { bookPdf } from '../book/index.js';
import { defineFormat } from './definition.js';

export const bookAsPdf = defineFormat({
  of: 'book',
  id: 'pdf',
  title: 'PDF',
  mediaType: 'application/pdf',
  extension: 'pdf',
  write: ({ book, onProgress }) => bookPdf(book, onProgress),
});
