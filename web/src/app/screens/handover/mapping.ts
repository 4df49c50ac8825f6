import { defineKind } from './kind';
import { MappingView } from './mapping-view';

/** What the set-up of a converter asks for. */
export const mapping = defineKind({
  key: 'mapping',
  label: 'Mapping',
  menu: 'mapping',
  component: MappingView,
  copies: 'table',
  subjects: ({ devices }) => devices.filter(({ kind, image }) => kind === 'converter' && image),
  path: (id) => `devices/${id}/mapping`,
  about: () => 'mapping sheet',
  nothing: 'No converter with an image is in the project.',
});
