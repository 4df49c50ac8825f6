import { declareVariables, iecText } from '@plain-envoy/core/format';
import { defineFormat } from './definition.js';

export const mapIecText = defineFormat({
  of: 'map',
  id: 'iec',
  title: 'Variables, IEC 61131-3 text',
  mediaType: 'text/plain; charset=utf-8',
  extension: 'st',
  write: ({ device, points }) => iecText(device.name, declareVariables(points, device.areas)),
});
