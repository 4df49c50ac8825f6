import { defineKind } from './kind';
import { LossesView } from './losses-view';

/** What is lost when something fails. */
export const losses = defineKind({
  key: 'losses',
  label: 'What is lost when',
  menu: 'losses',
  component: LossesView,
  copies: 'table',
  subjects: ({ project: { id, name } }) => [{ id, name }],
  path: () => 'losses',
  about: () => 'reckoned from loss rules, watchdogs and what passes on to what; measured on the bench',
  nothing: '',
});
