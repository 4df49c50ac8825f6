import { declared } from '@plain-envoy/core/handover';
import { iecText } from '@plain-envoy/core/format';
import { defineFormat } from './definition.js';

export const variablesText = defineFormat({
  of: 'variables',
  id: 'st',
  title: 'Structured Text',
  mediaType: 'text/plain; charset=utf-8',
  extension: 'st',
  write: ({ list }) => iecText(list.controller, list.rows.map(declared)),
});
