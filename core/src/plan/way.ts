import { settingsOf } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import type { Endpoint } from './plan.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { type EthernetPort, type SerialLine } from '../media/index.js';

/** Transactions kept open to a device that is reached directly; the standard leaves the number to the server. */
const OPEN_DIRECTLY = 4;

/** How a device is reached: where it is dialled or on which line it is asked, and by which unit ID. */
export interface Way {
  endpoint: Endpoint;
  unitId: number;
}

/**
 * How Plain Envoy gets to a device: directly where it has an Ethernet port, else through the gateway on its serial line, or on
 * that line itself where no gateway asks there. A device that cannot be reached is a problem that says why.
 */
export function wayTo(document: ProjectDocument, deviceId: string): Outcome<Way> {
  const name = document.devices.find((device) => device.id === deviceId)?.name ?? 'This device';
  const ports = document.ports.filter((port) => port.deviceId === deviceId);
  const direct = ports.find((port): port is EthernetPort => port.kind === 'ethernet');
  if (direct?.role === 'asks') return bad(`${name} only asks, so it cannot be asked itself.`);
  if (direct) return good({ endpoint: endpointOf(document, direct, OPEN_DIRECTLY), unitId: direct.unitId });

  const serial = ports.find((port) => port.kind === 'serial');
  if (!serial && ports.length) return bad(`${name} is on a line that carries no Modbus, so it is reached only through its converter.`);
  if (!serial) return bad(`${name} has no port on any line, so nothing reaches it.`);
  const line = document.lines.find((row): row is SerialLine => row.id === serial.lineId && row.kind === 'serial');
  if (!line) return bad(`${name} is on no serial line, so nothing reaches it.`);
  if (serial.unitId === null) return bad(`${name} has no unit ID on ${line.name}, so it cannot be asked.`);
  if (serial.framing === 'text' || line.framing === 'text') return bad(`${name} speaks text on ${line.name}, not Modbus.`);
  if (serial.unitId < 1 || serial.unitId > 247)
    return bad(`${name} has unit ID ${serial.unitId}, which no device on a serial line can be asked by.`);
  const front = frontOf(document, serial.lineId);
  if (front) return good({ endpoint: endpointOf(document, front, 1), unitId: serial.unitId });
  const { id, framing } = line;
  const endpoint: Endpoint = { id, name: line.name, concurrent: 1, via: 'line', framing, settings: settingsOf(line) };
  return good({ endpoint, unitId: serial.unitId });
}

/**
 * Why a carrier cannot ask a device itself; null where it can: over a line that both are on, where the carrier asks, or
 * through the gateway in front of the device's serial line.
 */
export function carrierReaches(document: ProjectDocument, carrierId: string, deviceId: string): string | null {
  if (carrierId === deviceId) return null;
  const [carrier, device] = [carrierId, deviceId].map((id) => document.devices.find((row) => row.id === id)?.name ?? 'it');
  const asking = document.ports.filter(
    (port) =>
      port.deviceId === carrierId &&
      ((port.kind === 'ethernet' && port.role !== 'answers') || (port.kind === 'serial' && port.unitId === null)),
  );
  if (asking.length === 0) return `${carrier} has no port that asks, so it cannot reach ${device}.`;
  const lines = new Set(asking.map(({ lineId }) => lineId));
  const theirs = document.ports.filter((port) => port.deviceId === deviceId);
  const reached = theirs.some(({ kind, lineId }) => {
    const front = kind === 'serial' ? frontOf(document, lineId) : undefined;
    return lines.has(lineId) || (front !== undefined && lines.has(front.lineId));
  });
  return reached ? null : `No line that ${carrier} asks on leads to ${device}.`;
}

/** Where the gateway in front of a serial line is dialled; undefined where no gateway asks on it. A controller passes nothing on. */
export function frontOf({ devices, ports }: Pick<ProjectDocument, 'devices' | 'ports'>, lineId: string): EthernetPort | undefined {
  const asker = ports.find((port) => port.kind === 'serial' && port.lineId === lineId && port.unitId === null);
  const kind = devices.find(({ id }) => id === asker?.deviceId)?.kind;
  if (kind !== 'gateway' && kind !== 'converter') return undefined;
  return ports.find((port): port is EthernetPort => port.kind === 'ethernet' && port.deviceId === asker?.deviceId);
}

/** A serial line that carries Modbus. */
export type ModbusLine = SerialLine & { framing: Exclude<SerialLine['framing'], 'text'> };

/** The lines on which this machine can ask itself, by the serial port that each is bound to. */
export function boundLines({ lines }: Pick<ProjectDocument, 'lines'>): (ModbusLine & { boundTo: string })[] {
  return lines.filter(
    (line): line is ModbusLine & { boundTo: string } => line.kind === 'serial' && line.boundTo !== null && line.framing !== 'text',
  );
}

function endpointOf(document: ProjectDocument, port: EthernetPort, concurrent: number): Endpoint {
  return {
    id: port.deviceId,
    name: document.devices.find((device) => device.id === port.deviceId)?.name ?? port.ip,
    via: 'ethernet',
    framing: port.framing,
    ip: port.ip,
    tcpPort: port.tcpPort,
    standInAddress: port.standInAddress,
    concurrent,
  };
}
