import { noIdentification } from '../identity/index.js';
import { type Line, mediumOf, type LineKind, type Port } from '../media/index.js';
import { standInAddressOf } from '../network/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { atRegister } from '../place/index.js';
import type { Device } from './device.js';
import type { ProjectDocument } from './document.js';
import type { Point } from './point.js';

/** A new line of a kind, with the settings that are commonest. */
export function blankLine(kind: LineKind, ids: Pick<Line, 'id' | 'projectId' | 'name'>): Line {
  return mediumOf(kind).blankLine({ ...ids, note: '' });
}

/**
 * A port for a device that joins a line at its end: set as the line is, with the next free unit ID or address.
 * `asks` makes it the one that asks on a serial line.
 */
export function blankPort(document: ProjectDocument, line: Line, ids: { id: string; deviceId: string }, asks = false): Port {
  const here = portsOn(document, line);
  const position = Math.max(-1, ...document.ports.filter(({ lineId }) => lineId === line.id).map((port) => port.position)) + 1;
  const port = mediumOf(line.kind).blankPort(
    line,
    here,
    { ...ids, projectId: line.projectId, lineId: line.id, position, setHow: '' },
    asks,
  );
  return port.kind === 'ethernet' ? { ...port, standInAddress: freeStandInAddress(document, port.ip) } : port;
}

/** The same, or why the line has no place for it. */
export function joiningPort(document: ProjectDocument, line: Line, ids: { id: string; deviceId: string }, asks: boolean): Outcome<Port> {
  const full = mediumOf(line.kind).whyFull(line, portsOn(document, line), asks);
  return full ? bad(full, 'lineId') : good(blankPort(document, line, ids, asks));
}

/** Where the stand-in of a port may listen: as the port does, on the loopback network; another address where that is taken already. */
export function freeStandInAddress({ ports }: Pick<ProjectDocument, 'ports'>, ip: string): string {
  const taken = new Set(ports.flatMap((port) => (port.kind === 'ethernet' && port.standInAddress ? [port.standInAddress] : [])));
  const own = standInAddressOf(ip);
  if (!taken.has(own) && !own.startsWith('127.0.')) return own;
  for (let number = 1; ; number++) {
    const address = `127.200.${number >> 8}.${number & 0xff}`;
    if (!taken.has(address)) return address;
  }
}

/** The ports on a line that are of its own kind. */
export function portsOn({ ports }: Pick<ProjectDocument, 'ports'>, { id, kind }: Line): Port[] {
  return ports.filter((port) => port.lineId === id && port.kind === kind);
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
    identification: noIdentification,
    coupler: null,
    program: '',
    recording: null,
    image: null,
    standIn: null,
    fromLibrary: null,
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
    setting: null,
    releasedBy: null,
    watchdogMs: null,
    place: atRegister,
  };
}
