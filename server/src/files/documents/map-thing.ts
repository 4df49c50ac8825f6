import { toThing } from '@plain-envoy/core/format';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { wayTo } from '@plain-envoy/core/plan';
import { defineFormat } from './definition.js';

export const mapThing = defineFormat({
  of: 'map',
  id: 'thing',
  title: 'W3C Thing Description',
  mediaType: 'application/td+json',
  extension: 'td.json',
  write: ({ document, device, points }) =>
    `${JSON.stringify(toThing({ title: device.name, ...addressOf(document, device.id) }, points), null, 2)}\n`,
});

/** Where the device is reached: its own address, or the gateway in front of its line. */
function addressOf(document: ProjectDocument, deviceId: string): { base: string; unitId: number } {
  const way = wayTo(document, deviceId);
  if (!way.ok) return { base: 'modbus+rtu://', unitId: 255 };
  const { endpoint, unitId } = way.value;
  return { base: endpoint.via === 'ethernet' ? `modbus+tcp://${endpoint.ip}:${endpoint.tcpPort}` : 'modbus+rtu://', unitId };
}
