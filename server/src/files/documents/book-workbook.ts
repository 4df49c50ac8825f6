import { makers } from '../book/index.js';
import { defineFormat } from './definition.js';

export const bookAsWorkbook = defineFormat({
  of: 'book',
  id: 'xlsx',
  title: 'XLSX, its tables',
  mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  extension: 'xlsx',
  write: async ({ book }) => (await makers()).bookWorkbook(book),
});
