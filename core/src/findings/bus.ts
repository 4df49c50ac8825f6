import type { Device, ProjectDocument } from '../model/index.js';
import type {
  CanLine,
  CanPort,
  CyclicLine,
  CyclicPort,
  EthernetLine,
  EthernetPort,
  Line,
  Port,
  SerialLine,
  SerialPort,
  TelecontrolLine,
  TelecontrolPort,
} from '../media/index.js';

export interface Member<P extends Port = SerialPort> {
  name: string;
  device: Device;
  port: P;
}

/** A line with its members in their physical order. */
export interface Bus<L extends Line = Line, P extends Port = Port> {
  line: L;
  members: Member<P>[];
}
export type SerialBus = Bus<SerialLine, SerialPort>;
export type EthernetBus = Bus<EthernetLine, EthernetPort>;
export type CanBus = Bus<CanLine, CanPort>;
export type CyclicBus = Bus<CyclicLine, CyclicPort>;
export type TelecontrolBus = Bus<TelecontrolLine, TelecontrolPort>;

/** Every line with those ports on it that are of its own kind. */
export function busesOf({ lines, devices, ports }: Pick<ProjectDocument, 'lines' | 'devices' | 'ports'>): Bus[] {
  const byId = new Map(devices.map((device) => [device.id, device]));
  const byLine = new Map<string, Member<Port>[]>(lines.map((line) => [line.id, []]));
  for (const port of ports) {
    const device = byId.get(port.deviceId);
    if (device) byLine.get(port.lineId)?.push({ name: device.name, device, port });
  }
  return lines.map((line) => ({
    line,
    members: byLine
      .get(line.id)!
      .filter(({ port }) => port.kind === line.kind)
      .sort((a, b) => a.port.position - b.port.position),
  }));
}
