import { defineKind } from './kind';
import { RevisionsView } from './revisions-view';

/** What the project was, and what is otherwise now. */
export const revisions = defineKind({
  key: 'revisions',
  label: 'Revisions',
  menu: null,
  component: RevisionsView,
  copies: 'table',
  subjects: ({ project: { id, name } }) => [{ id, name }],
  path: () => '',
  about: () => 'what was changed, by whom, and what it means',
  nothing: '',
});
