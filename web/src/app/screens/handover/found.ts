import { defineKind } from './kind';
import { FoundView } from './found-view';

/** What runs, beside what is designed. */
export const found = defineKind({
  key: 'found',
  label: 'As found',
  menu: null,
  component: FoundView,
  copies: 'table',
  subjects: ({ project: { id, name } }) => [{ id, name }],
  path: () => '',
  about: () => 'what devices and lines say today, beside what a revision says of them',
  nothing: '',
});
