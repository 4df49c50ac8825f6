import { makers } from '../book/index.js';
import { defineFormat } from './definition.js';

export const bookAsPdf = defineFormat({
  of: 'book',
  id: 'pdf',
  title: 'PDF',
  mediaType: 'application/pdf',
  extension: 'pdf',
  write: async ({ book, onProgress }) => (await makers()).bookPdf(book, onProgress),
});
