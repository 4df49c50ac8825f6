import { declared } from '@plain-envoy/core/handover';
import { iecXml } from '../iec-xml.js';
import { defineFormat } from './definition.js';

export const variablesXml = defineFormat({
  of: 'variables',
  id: 'xml',
  title: 'XML',
  mediaType: 'application/xml',
  extension: 'xml',
  write: ({ list }) => iecXml(list.controller, list.rows.map(declared)),
});
