import { defineKind } from './kind';
import { BookView } from './book-view';

/** Everything of the project in one document. */
export const book = defineKind({
  key: 'book',
  label: 'Book',
  menu: null,
  component: BookView,
  copies: 'table',
  subjects: ({ project: { id, name } }) => [{ id, name }],
  path: () => '',
  about: ({ project: { book: of } }) => `${of.chapters.length} ${of.chapters.length === 1 ? 'chapter' : 'chapters'}, as PDF, HTML and XLSX`,
  nothing: '',
});
