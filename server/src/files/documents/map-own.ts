import { mapJson } from '@plain-envoy/core/format';
import { defineFormat } from './definition.js';

export const mapOwn = defineFormat({
  of: 'map',
  id: 'json',
  title: 'JSON, our own',
  mediaType: 'application/json',
  extension: 'json',
  write: ({ device, points }) => `${JSON.stringify(mapJson(device.name, points), null, 2)}\n`,
});
