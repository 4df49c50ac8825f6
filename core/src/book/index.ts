export { type BookContent, bookOf, chapterOf } from './book.js';
export type { Block, BookColumn, Cell, Section } from './content.js';
export { tablesOf } from './tables.js';
