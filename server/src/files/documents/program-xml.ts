import { programTextOf } from '@plain-envoy/core/controller-program';
import { iecProgramXml } from '../iec-program-xml.js';
import { defineFormat } from './definition.js';

export const programXml = defineFormat({
  of: 'program',
  id: 'xml',
  title: 'XML',
  mediaType: 'application/xml',
  extension: 'xml',
  write: ({ program, parts }) => iecProgramXml(program.controller.name, programTextOf(program, parts)),
});
