import { csvHeader, csvRow, declareVariable, iecText, mapJson, toThing } from '@plain-envoy/core/format';
import type { Device, Point, ProjectDocument } from '@plain-envoy/core/model';
import { wayTo } from '@plain-envoy/core/plan';
import Papa from 'papaparse';
import { refuse } from '../problem/index.js';
import { iecXml } from './iec-xml.js';

interface MapExport {
  type: string;
  extension: string;
  text(device: Device, points: readonly Point[], document: ProjectDocument): string;
}

/** The formats in which a device's register map leaves. */
export const exportFormats = {
  csv: {
    type: 'text/csv; charset=utf-8',
    extension: 'csv',
    // The byte-order mark lets spreadsheets know the encoding.
    text: (_device, points) => `\uFEFF${Papa.unparse([[...csvHeader], ...points.map(csvRow)])}\r\n`,
  },
  json: { type: 'application/json', extension: 'json', text: ({ name }, points) => pretty(mapJson(name, points)) },
  thing: {
    type: 'application/td+json',
    extension: 'td.json',
    text: (device, points, document) => pretty(toThing({ title: device.name, ...addressOf(document, device.id) }, points)),
  },
  iec: { type: 'text/plain; charset=utf-8', extension: 'st', text: ({ name, areas }, points) => iecText(name, declared(points, areas)) },
  xml: { type: 'application/xml', extension: 'xml', text: ({ name, areas }, points) => iecXml(name, declared(points, areas)) },
} as const satisfies Record<string, MapExport>;

export type ExportFormat = keyof typeof exportFormats;

/** The map of a device in one of these formats, in register order. */
export function exportMap(document: ProjectDocument, deviceId: string, format: ExportFormat): { type: string; name: string; text: string } {
  const device = document.devices.find(({ id }) => id === deviceId) ?? refuse(404, 'This device is not in the project.', ['deviceId']);
  const points = document.points
    .filter((point) => point.deviceId === deviceId)
    .sort((a, b) => a.table.localeCompare(b.table) || a.offset - b.offset || (a.bit ?? 0) - (b.bit ?? 0));
  const chosen: MapExport = exportFormats[format];
  const name = `${device.name.replace(/[^A-Za-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'map'}.${chosen.extension}`;
  return { type: chosen.type, name, text: chosen.text(device, points, document) };
}

function declared(points: readonly Point[], areas: Device['areas']) {
  const taken = new Set<string>();
  return points.map((point) => declareVariable(point, areas, taken));
}

function pretty(json: unknown): string {
  return `${JSON.stringify(json, null, 2)}\n`;
}

/** Where the device is reached: its own address, or the gateway in front of its line. */
function addressOf(document: ProjectDocument, deviceId: string): { base: string; unitId: number } {
  const way = wayTo(document, deviceId);
  if (!way.ok) return { base: 'modbus+rtu://', unitId: 255 };
  const { endpoint, unitId } = way.value;
  return { base: endpoint.via === 'ethernet' ? `modbus+tcp://${endpoint.ip}:${endpoint.tcpPort}` : 'modbus+rtu://', unitId };
}
