import { declareVariables } from '@plain-envoy/core/format';
import { iecXml } from '../iec-xml.js';
import { defineFormat } from './definition.js';

export const mapIecXml = defineFormat({
  of: 'map',
  id: 'xml',
  title: 'Variables, IEC 61131-10 XML',
  mediaType: 'application/xml',
  extension: 'xml',
  write: ({ device, points }) => iecXml(device.name, declareVariables(points, device.areas)),
});
