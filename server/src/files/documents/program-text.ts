import { programTextOf } from '@plain-envoy/core/controller-program';
import { defineFormat } from './definition.js';

export const programText = defineFormat({
  of: 'program',
  id: 'st',
  title: 'Structured Text',
  mediaType: 'text/plain; charset=utf-8',
  extension: 'st',
  write: ({ program, parts }) => programTextOf(program, parts),
});
