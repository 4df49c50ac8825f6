import { defineKind } from './kind';
import { ProtocolView } from './protocol-view';

/** The steps of acceptance, done one after the other and signed. */
export const protocol = defineKind({
  key: 'protocol',
  label: 'Protocol',
  menu: null,
  component: ProtocolView,
  copies: 'table',
  subjects: ({ project: { id, name } }) => [{ id, name }],
  path: () => '',
  about: () => 'what is shown at the works and on site, signed step by step',
  nothing: '',
});
