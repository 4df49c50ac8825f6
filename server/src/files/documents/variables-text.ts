import { iecText } from '@plain-envoy/core/format';
import { defineFormat } from './definition.js';
import { declared } from './declared.js';

export const variablesText = defineFormat({
  of: 'variables',
  id: 'st',
  title: 'Structured Text',
  mediaType: 'text/plain; charset=utf-8',
  extension: 'st',
  write: ({ list }) => iecText(list.controller, list.rows.map(declared)),
});
