import { formatNetwork, hostsOf, ipNumber, ipText, maskText, parseNetwork } from '../network/index.js';
import { standards, type StandardName } from '../line/index.js';
import type { Device } from './device.js';
import type { ProjectDocument } from './document.js';
import type { Cable, Line } from './line.js';
import type { Point } from './point.js';
import type { Port } from './port.js';

const NETWORK = '10.40.9.0/24';

/** A cable as it is usually laid for this standard, before anybody has looked. */
export function blankCable(standard: StandardName): Cable {
  const point = standard === 'rs232';
  return {
    conductorOhmPerKm: 90,
    shieldOhmPerKm: 12,
    reference: true,
    crossing: point ? 'crossed' : 'straight',
    colours: {},
    repeatersAtM: [],
  };
}

/** A new line of a kind, with the settings that are commonest. */
export function blankLine(kind: Line['kind'], ids: Pick<Line, 'id' | 'projectId' | 'name'>): Line {
  const common = { ...ids, note: '' };
  switch (kind) {
    case 'ethernet':
      return { ...common, kind, network: NETWORK };
    case 'serial':
      return {
        ...common,
        kind,
        standard: 'rs485-two-wire',
        framing: 'rtu',
        baud: 19_200,
        dataBits: 8,
        parity: 'even',
        stopBits: 1,
        lengthM: 100,
        cable: blankCable('rs485-two-wire'),
        boundTo: null,
      };
    case 'can':
      return { ...common, kind, bitrate: 250_000, identifierBits: 29, lengthM: 40 };
    case 'telecontrol':
      return { ...common, kind, standard: 'ieee1815' };
  }
}

/**
 * A port for a device that joins a line at its end: set as the line is, with the next free unit ID or address.
 * `asks` makes it the one that asks on a serial line.
 */
export function blankPort(document: ProjectDocument, line: Line, ids: { id: string; deviceId: string }, asks = false): Port {
  const here = document.ports.filter((port) => port.lineId === line.id);
  const position = Math.max(-1, ...here.map((port) => port.position)) + 1;
  const common = { ...ids, projectId: line.projectId, lineId: line.id, position, setHow: '' };
  const serial = here.filter((port) => port.kind === 'serial');
  switch (line.kind) {
    case 'ethernet': {
      const ip = freeAddress(line.network, here);
      const mask = maskText(Number(line.network.split('/')[1]));
      const set = { gateway: null, leased: false, role: 'answers', framing: 'tcp', tcpPort: 502, unitId: 255 } as const;
      return { ...common, ...set, kind: 'ethernet', ip, mask, connections: 4, otherClients: 0, standInAddress: null };
    }
    case 'serial': {
      const { baud, dataBits, parity, stopBits, framing, standard } = line;
      const { levels, duplex } = standards[standard];
      const used = new Set(serial.map((port) => port.unitId));
      const highest = Math.max(0, ...serial.map((port) => port.unitId ?? 0));
      const firstFree = Array.from({ length: 247 }, (_, index) => index + 1).find((unit) => !used.has(unit)) ?? 247;
      return {
        ...common,
        ...{ baud, dataBits, parity, stopBits, framing, levels, duplex },
        kind: 'serial',
        unitId: asks || framing === 'text' ? null : highest < 247 ? highest + 1 : firstFree,
        atM: Math.min(line.lengthM, Math.max(0, ...serial.map((port) => port.atM)) + (serial.length ? 5 : 0)),
        ...{ stubM: 0, terminated: false, bias: false, shield: 'open', reference: 'resistance', isolated: false, earthV: 0 },
        ...{ unitLoads: 1, driverLoads: 32, terminals: {}, passes: [], plug: serial.length ? 'dce' : 'dte', handshake: 'none' },
      };
    }
    case 'can':
      return { ...common, kind: 'can', bitrate: line.bitrate, atM: 0, terminated: false };
    case 'telecontrol':
      return { ...common, kind: 'telecontrol', role: here.length ? 'answers' : 'asks', address: position + 1 };
  }
}

/** The first address after the highest that is taken in a network, or the first free one. */
function freeAddress(text: string, ports: readonly Port[]): string {
  const network = parseNetwork(text);
  if (!network.ok) return '10.40.9.1';
  const { first, last } = hostsOf(network.value);
  const taken = new Set(ports.map((port) => (port.kind === 'ethernet' ? ipNumber(port.ip) : null)));
  const inside = [...taken].filter((ip): ip is number => ip !== null && ip >= first && ip <= last);
  const next = Math.max(first - 1, ...inside) + 1;
  if (next <= last) return ipText(next);
  for (let ip = first; ip <= last; ip++) if (!taken.has(ip)) return ipText(ip);
  return formatNetwork(network.value).split('/')[0]!;
}

/** A new device of which nothing is known yet. */
export function blankDevice(name: string): Omit<Device, 'id' | 'projectId'> {
  return {
    name,
    note: '',
    kind: 'field',
    notation: 'pdu',
    entry: 'asIs',
    areas: [],
    forbidden: [],
    readAcrossHoles: true,
    functionCodes: [1, 2, 3, 4, 5, 6, 15, 16],
    maxReadWords: 125,
    maxReadBits: 2000,
    maxWriteWords: 123,
    maxWriteBits: 1968,
    timeoutMs: 1000,
    tries: 2,
    delayMs: 5,
    lossPercent: 0,
    writeTimeoutMs: null,
    standIn: null,
  };
}

/** A new point: a holding register with an unsigned number. */
export function blankPoint(ids: Pick<Point, 'id' | 'projectId' | 'deviceId'>): Point {
  return {
    ...ids,
    name: '',
    note: '',
    table: 'holding',
    offset: 0,
    bit: null,
    type: 'uint16',
    order: 'ABCD',
    length: null,
    encoding: null,
    scale: null,
    unit: '',
    access: 'readWrite',
    bits: [],
    codes: [],
    releasedBy: null,
    watchdogMs: null,
  };
}
