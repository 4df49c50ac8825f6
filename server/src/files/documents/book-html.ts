import { makers } from '../book/index.js';
import { defineFormat } from './definition.js';

export const bookAsHtml = defineFormat({
  of: 'book',
  id: 'html',
  title: 'HTML, one file',
  mediaType: 'text/html; charset=utf-8',
  extension: 'html',
  write: async ({ book }) => (await makers()).bookHtml(book),
});
