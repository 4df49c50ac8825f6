import { type SerialSettings, settingsOf, type PortSettings } from '../line/index.js';
import { type CarriedTelegram, converterOf, farLineOf, textsOn } from '../converter/index.js';
import { type CarriedStation, stationsOn } from '../stations/index.js';
import type { EthernetPort, Line, ModbusLine, SerialPort } from '../media/index.js';
import { isModbusLine, portSettingsOn, STANDARD_PORT, telecontrolPort } from '../media/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { BROADCAST_UNIT, type Endpoint, type OverStation } from './plan.js';

/** What is asked: the stand-ins, or the plant itself, which a person arms first. */
export type Target = 'stand-ins' | 'real';

/** A gateway that asks on a serial line, and how long it gives a device there. */
export interface Front {
  device: Device;
  port: EthernetPort;
}

/** How a device is reached: where questions go out, by which unit ID, and past which gateway; null where none is between. */
export interface Way {
  /** Whose registers are asked: its own, or those of the converter before it. */
  asked: Device;
  endpoint: Endpoint;
  unitId: number;
  front: Front | null;
  /** Its serial line where a broadcast gets there; null where none does. */
  broadcastOn: ModbusLine | null;
}

/** Where to go in the end. Nothing else decides it: runner, proofs, sweeps, errands and writes by hand all open what this says. */
export type Dial =
  | { kind: 'socket'; framing: EthernetPort['framing']; host: string; port: number }
  /** An adapter of this machine to a simulated line. */
  | { kind: 'adapter'; framing: ModbusLine['framing']; lineId: string; settings: SerialSettings }
  /** `cutsEcho` where the port hears what it sends itself. */
  | { kind: 'serial'; framing: ModbusLine['framing']; path: string; settings: SerialSettings; cutsEcho: boolean }
  /** A line of text; `to` is what leads to it, null for the adapter of this machine to a simulated one. */
  | { kind: 'text'; to: string | null; lineId: string; settings: PortSettings; telegrams: CarriedTelegram[] }
  /** A telecontrol link of which Plain Envoy is one end: it calls there, or listens there as an outstation. `isReal` where that is no stand-in. */
  | { kind: 'station'; host: string; port: number; isReal: boolean; place: number; station: CarriedStation }
  /** Nowhere: `why` goes on after a name and a colon. */
  | { kind: 'nowhere'; why: string };

/**
 * How Plain Envoy gets to a device: directly where it has an Ethernet port, else through the gateway on its serial line, or on
 * that line itself where no gateway asks there. A device that cannot be reached is a problem that says why.
 */
export function wayTo(document: ProjectDocument, deviceId: string): Outcome<Way> {
  const asked = document.devices.find((device) => device.id === deviceId);
  if (!asked) return bad('This device has no port on any line, so nothing reaches it.');
  const before = converterOf(document, deviceId);
  if (before) return wayTo(document, before.converter.id);
  const { name } = asked;
  const ports = document.ports.filter((port) => port.deviceId === deviceId);
  const direct = ports.find((port): port is EthernetPort => port.kind === 'ethernet');
  if (direct?.role === 'asks') return bad(`${name} only asks, so it cannot be asked itself.`);
  if (direct)
    return good({ asked, endpoint: onEthernet(name, direct, openTo(direct), null), unitId: direct.unitId, front: null, broadcastOn: null });

  const station = stationWay(document, asked);
  if (station) return good(station);
  const serial =
    ports.find(
      (port): port is SerialPort =>
        port.kind === 'serial' && isModbusLine(document.lines.find(({ id }) => id === port.lineId)) && port.framing !== 'text',
    ) ?? ports.find((port): port is SerialPort => port.kind === 'serial');
  if (!serial && ports.length) return bad(`${name} is on a line that carries no Modbus, so it is reached only through its converter.`);
  if (!serial) return bad(`${name} has no port on any line, so nothing reaches it.`);
  const line = document.lines.find((row) => row.id === serial.lineId && row.kind === 'serial');
  if (!line) return bad(`${name} is on no serial line, so nothing reaches it.`);
  const text = textWay(document, asked, line);
  if (text) return good(text);
  if (serial.unitId === null) return bad(`${name} has no unit ID on ${line.name}, so it cannot be asked.`);
  if (serial.framing === 'text' || !isModbusLine(line)) return bad(`${name} speaks text on ${line.name}, not Modbus.`);
  if (serial.unitId < 1 || serial.unitId > 247)
    return bad(`${name} has unit ID ${serial.unitId}, which no device on a serial line can be asked by.`);
  const broadcastOn = passesBroadcasts(document, line.id) ? line : null;
  return good({ asked, ...wayToLine(document, line), unitId: serial.unitId, broadcastOn });
}

/** A device whose telegrams are known is heard on its line, where no converter does that; its unit is its place among those there. */
function textWay(document: ProjectDocument, asked: Device, line: Line): Way | null {
  if (line.kind !== 'serial' || farLineOf(document, asked.id) !== line) return null;
  const telegrams = textsOn(document, line.id);
  const own = telegrams.find(({ deviceId }) => deviceId === asked.id);
  if (!own) return null;
  const { id, name, boundTo: leads } = line;
  const settings = portSettingsOn(document.ports, line);
  const endpoint: Endpoint = { id, name, concurrent: 1, via: 'text', settings, telegrams, leads, bound: null };
  return { asked, endpoint, unitId: own.unit, front: null, broadcastOn: null };
}

/** A telecontrol station whose other end nobody of the project is: Plain Envoy is that. */
function stationWay(document: ProjectDocument, asked: Device): Way | null {
  const line = farLineOf(document, asked.id);
  if (line?.kind !== 'telecontrol') return null;
  const pairs = stationsOn(document, line.id);
  const place = pairs.findIndex(({ control, outstation }) => (control ?? outstation)?.deviceId === asked.id && !(control && outstation));
  const station = pairs[place];
  if (!station) return null;
  const { portId: id } = (station.control ?? station.outstation)!;
  return {
    asked,
    endpoint: { id, name: line.name, concurrent: 1, via: 'station', station, place, bound: null },
    unitId: 1,
    front: null,
    broadcastOn: null,
  };
}

/** How a serial line is reached, whoever is on it: through the gateway that asks there, or on the line itself. */
export function wayToLine(document: Pick<ProjectDocument, 'devices' | 'ports'>, line: ModbusLine): Pick<Way, 'endpoint' | 'front'> {
  const front = frontOf(document, line.id);
  if (front) return { endpoint: onEthernet(front.device.name, front.port, 1, boundOf(line)), front };
  const { id, name, framing } = line;
  return { endpoint: { id, name, concurrent: 1, via: 'line', framing, settings: settingsOf(line), bound: boundOf(line) }, front: null };
}

/** Where an endpoint is dialled. A serial port of this machine that is bound to a line takes the place of whoever asks there. */
export function dialOf(endpoint: Endpoint, on: Target, standInsPort: number): Dial {
  if (endpoint.via === 'text') {
    const { id: lineId, settings, telegrams, leads } = endpoint;
    if (on === 'real' && leads === null) return { kind: 'nowhere', why: 'nothing of this machine leads to it; say what does, in Lines.' };
    return { kind: 'text', to: on === 'real' ? leads : null, lineId, settings, telegrams };
  }
  if (endpoint.via === 'station') return stationDial(endpoint, on, standInsPort);
  if (on === 'real') {
    if (endpoint.bound) return { kind: 'serial', ...endpoint.bound };
    if (endpoint.via === 'line') return { kind: 'nowhere', why: 'it is bound to no serial port of this machine; bind it in Lines.' };
    return { kind: 'socket', framing: endpoint.framing, host: endpoint.ip, port: endpoint.tcpPort };
  }
  if (endpoint.via === 'line') {
    const { id: lineId, framing, settings } = endpoint;
    return { kind: 'adapter', framing, lineId, settings };
  }
  const { framing, standInAddress: host, tcpPort } = endpoint;
  return host
    ? { kind: 'socket', framing, host, port: standInPort(tcpPort, standInsPort) }
    : { kind: 'nowhere', why: 'it has no stand-in, and the bench runs on stand-ins only.' };
}

/** Where an outstation listens, or Plain Envoy does in the place of one. */
function stationDial({ station, place }: OverStation, on: Target, standInsPort: number): Dial {
  const { line, outstation, loopback } = station;
  const port = telecontrolPort(line)!;
  const rests = { kind: 'station', isReal: on === 'real', place, station } as const;
  if (on === 'real') {
    const host = outstation ? outstation.ip : line.listensAt;
    const lacks = outstation
      ? 'it is not said at which address it listens; say so at its port.'
      : 'it is not said at which address of this machine Plain Envoy listens; say so in Lines.';
    return host ? { ...rests, host, port } : { kind: 'nowhere', why: lacks };
  }
  const host = outstation ? outstation.loopback : loopback;
  return host
    ? { ...rests, host, port: standInPort(port, standInsPort) }
    : { kind: 'nowhere', why: 'it is not said at which address it listens; say so at its port.' };
}

/** Where a serial line is asked on itself, with these settings, whether or not a gateway asks there too. */
export function dialOnLine(line: ModbusLine, settings: SerialSettings, on: Target): Dial {
  const { id: lineId, name, framing, boundTo, localEcho } = line;
  if (on === 'stand-ins') return { kind: 'adapter', framing, lineId, settings };
  return boundTo
    ? { kind: 'serial', framing, path: boundTo, settings, cutsEcho: localEcho === 'cut away' }
    : { kind: 'nowhere', why: `${name} is not bound to a serial port of this machine.` };
}

/** The gateway that is really asked on the way: none where a serial port of this machine takes its place. */
export function frontOn({ front, endpoint }: Pick<Way, 'front' | 'endpoint'>, on: Target): Front | null {
  return on === 'real' && endpoint.bound ? null : front;
}

const FIRST_FREE_PORT = 1024;
const PORTS = 65_536 - FIRST_FREE_PORT;

/**
 * The TCP port at which a stand-in listens in the place of a device’s own: `standInsPort` in that of 502, and as far from it as
 * the device’s is from 502, so that a port that is set wrongly is heard as wrong. Ports for which one must be root are passed by.
 */
export function standInPort(tcpPort: number, standInsPort: number): number {
  if (tcpPort === STANDARD_PORT) return standInsPort;
  const steps = standInsPort - FIRST_FREE_PORT + tcpPort - STANDARD_PORT;
  return FIRST_FREE_PORT + (((steps % PORTS) + PORTS) % PORTS);
}

/**
 * Why a carrier cannot ask a device itself; null where it can: over a line that both are on, where the carrier asks, or
 * through the gateway in front of the device's serial line.
 */
export function carrierReaches(document: ProjectDocument, carrierId: string, deviceId: string): string | null {
  if (carrierId === deviceId) return null;
  const [carrier, device] = [carrierId, deviceId].map((id) => document.devices.find((row) => row.id === id)?.name ?? 'it');
  const before = converterOf(document, deviceId);
  if (before) return carrierReaches(document, carrierId, before.converter.id);
  const asking = document.ports.filter(
    (port) =>
      port.deviceId === carrierId &&
      ((port.kind === 'ethernet' && port.role !== 'answers') || (port.kind === 'serial' && port.unitId === null)),
  );
  if (asking.length === 0) return `${carrier} has no port that asks, so it cannot reach ${device}.`;
  const lines = new Set(asking.map(({ lineId }) => lineId));
  const theirs = document.ports.filter((port) => port.deviceId === deviceId);
  const reached = theirs.some(({ kind, lineId }) => {
    const front = kind === 'serial' ? frontOf(document, lineId) : null;
    return lines.has(lineId) || (front !== null && lines.has(front.port.lineId));
  });
  return reached ? null : `No line that ${carrier} asks on leads to ${device}.`;
}

/** The gateway in front of a serial line; null where none asks on it. A controller passes nothing on. */
export function frontOf({ devices, ports }: Pick<ProjectDocument, 'devices' | 'ports'>, lineId: string): Front | null {
  const master = ports.find((port) => port.kind === 'serial' && port.lineId === lineId && port.unitId === null);
  const device = devices.find(({ id }) => id === master?.deviceId);
  if (device?.kind !== 'gateway' && device?.kind !== 'converter') return null;
  const port = ports.find((row): row is EthernetPort => row.kind === 'ethernet' && row.deviceId === device.id);
  return port ? { device, port } : null;
}

/**
 * Whether what is sent to unit 0 gets onto this serial line: where nobody stands between, and through a gateway that is said to pass
 * it on. To any other gateway unit 0 is itself.
 */
function passesBroadcasts(document: Pick<ProjectDocument, 'devices' | 'ports'>, lineId: string): boolean {
  const front = frontOf(document, lineId);
  const isMaster = ({ kind, deviceId, ...port }: ProjectDocument['ports'][number]) =>
    kind === 'serial' && port.lineId === lineId && deviceId === front?.device.id;
  const master = document.ports.find(isMaster);
  return !front || (master?.kind === 'serial' && master.forwardedUnits.some(({ first }) => first === BROADCAST_UNIT));
}

/** The lines on which this machine can ask itself, by the serial port that each is bound to. */
export function boundLines({ lines }: Pick<ProjectDocument, 'lines'>): (ModbusLine & { boundTo: string })[] {
  return lines.filter((line): line is ModbusLine & { boundTo: string } => isModbusLine(line) && line.boundTo !== null);
}

function boundOf(line: ModbusLine): Endpoint['bound'] {
  const { boundTo, framing, localEcho } = line;
  return boundTo === null ? null : { path: boundTo, framing, settings: settingsOf(line), cutsEcho: localEcho === 'cut away' };
}

/** Transactions kept open to a device that is reached directly; the standard leaves the number to the server (Messaging V1.0b, 4.4.1). */
function openTo({ framing, openTransactions }: EthernetPort): number {
  return framing === 'tcp' ? openTransactions : 1;
}

function onEthernet(name: string, port: EthernetPort, concurrent: number, bound: Endpoint['bound']): Endpoint {
  const { deviceId: id, framing, ip, tcpPort, standInAddress } = port;
  return { id, name, via: 'ethernet', framing, ip, tcpPort, standInAddress, concurrent, bound };
}
