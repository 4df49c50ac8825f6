import type { SideWindow } from '../image/index.js';
import type { Line } from '../media/index.js';
import type { Device, ProjectDocument } from '../model/index.js';

type Plant = Pick<ProjectDocument, 'lines' | 'devices' | 'ports'>;

/**
 * What stands between Modbus and a device that speaks none: the converter, or a controller that keeps in its memory what it exchanges over a
 * cyclic link, and the line on which it has that device.
 */
export interface Before {
  converter: Device;
  line: Line;
}

/** The line of a device that speaks no Modbus on any of its ports; null for all others. */
export function farLineOf({ lines, devices, ports }: Plant, deviceId: string): Line | null {
  const device = devices.find(({ id }) => id === deviceId);
  if (!device || device.kind === 'converter' || device.kind === 'gateway' || device.image) return null;
  const own = ports.filter((port) => port.deviceId === deviceId);
  const there = own.map(({ lineId }) => lines.find(({ id }) => id === lineId));
  return there.length > 0 && there.every((line) => line && isFarLine(line)) ? there[0]! : null;
}

/** What goes over it reaches Modbus through a converter, or Plain Envoy itself. */
export function isFarLine(line: Line): boolean {
  return isTextLine(line) || line.kind === 'can' || line.kind === 'cyclic' || line.kind === 'telecontrol';
}

export function isTextLine(line: Line): boolean {
  return line.kind === 'serial' && line.framing === 'text';
}

/** The converter before a device that speaks no Modbus; null where none is on its line, or it speaks some. */
export function converterOf(plant: Plant, deviceId: string): Before | null {
  const line = farLineOf(plant, deviceId);
  if (!line) return null;
  const here = plant.ports.filter(({ lineId }) => lineId === line.id).map((port) => port.deviceId);
  const converters = plant.devices.filter((device) => (device.kind === 'converter' || device.image) && here.includes(device.id));
  const converter = converters.find(({ image }) => image !== null) ?? converters[0];
  return converter ? { converter, line } : null;
}

/** The device whose registers are asked for the points of another: the converter before it, or itself. Each is looked up once. */
export function askedFor(plant: Plant): (deviceId: string) => string {
  const known = new Map<string, string>();
  return (deviceId) => {
    const asked = known.get(deviceId) ?? converterOf(plant, deviceId)?.converter.id ?? deviceId;
    known.set(deviceId, asked);
    return asked;
  };
}

/** The windows of a converter on one line. */
export function windowsOn({ image }: Pick<Device, 'image'>, lineId: string): SideWindow[] {
  return image?.windows.filter((window) => window.lineId === lineId) ?? [];
}

/** Its windows that count registers, through which Modbus sees its image. */
export function registerWindows({ image }: Pick<Device, 'image'>): (SideWindow & { table: NonNullable<SideWindow['table']> })[] {
  return (
    image?.windows.filter((window): window is SideWindow & { table: NonNullable<SideWindow['table']> } => window.table !== undefined) ?? []
  );
}
