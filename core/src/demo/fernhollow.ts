import type { Place } from '../address/index.js';
import type { Carry, Device, EthernetPort, Line, Point, Port, ProjectDocument, Round, Route, SerialPort } from '../model/index.js';

/** Fernhollow Maltings, an invented malt house: the kiln, its bus and its controller. Ids are fixed, so that a second seeding finds the first. */
export function fernhollow(): ProjectDocument {
  return { project, lines, devices, ports, points, rounds, routes };
}

let counter = 0;
function nextId(): string {
  counter += 1;
  return `019aa000-0000-7000-8000-${counter.toString(16).padStart(12, '0')}`;
}

const project = {
  id: nextId(),
  name: 'Fernhollow Maltings',
  note: 'Kiln: air-on temperature and humidity, exhaust damper and both fans, exchanged with the kiln controller.',
};
const projectId = project.id;

const kilnSettings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;

const processNet: Line = {
  id: nextId(),
  projectId,
  name: 'Process net',
  note: '',
  kind: 'ethernet',
  network: '10.40.8.0/24',
};
const kilnBus: Line = {
  id: nextId(),
  projectId,
  name: 'Kiln bus',
  note: '',
  kind: 'serial',
  standard: 'rs485-two-wire',
  framing: 'rtu',
  lengthM: 430,
  ...kilnSettings,
};
const lines = [processNet, kilnBus];

function device(fields: Partial<Device> & Pick<Device, 'name' | 'kind' | 'standIn'>): Device {
  return { id: nextId(), projectId, note: '', notation: 'pdu', areas: [], timeoutMs: 1000, tries: 2, ...fields };
}

const controller = device({
  name: 'Kiln controller',
  kind: 'controller',
  notation: 'area',
  standIn: 'kiln-controller',
  note: 'Its package writes one-based numbers and subtracts one.',
  areas: [
    { name: 'W', table: 'holding', firstIndex: 0, offset: 0, stride: 1, count: 512 },
    { name: 'B', table: 'coil', firstIndex: 0, offset: 0, stride: 1, count: 512 },
  ],
});
const gateway = device({ name: 'Kiln gateway', kind: 'gateway', standIn: 'gateway' });
const fanNorth = device({ name: 'Fan drive north', kind: 'field', notation: 'number', standIn: 'fan-drive' });
const fanSouth = device({ name: 'Fan drive south', kind: 'field', notation: 'number', standIn: 'fan-drive' });
const airOn = device({ name: 'Air-on transmitter', kind: 'field', notation: 'reference5', standIn: 'air-on-transmitter' });
const damper = device({ name: 'Exhaust damper', kind: 'field', notation: 'number', standIn: 'exhaust-damper' });
const devices = [controller, gateway, fanNorth, fanSouth, airOn, damper];

function onNet(deviceId: string, position: number, host: number, connections: number): EthernetPort {
  return {
    id: nextId(),
    projectId,
    deviceId,
    lineId: processNet.id,
    position,
    kind: 'ethernet',
    ip: `10.40.8.${host}`,
    tcpPort: 502,
    unitId: 255,
    connections,
    standInAddress: `127.40.8.${host}`,
  };
}

function onKilnBus(deviceId: string, position: number, unitId: number | null): SerialPort {
  return { id: nextId(), projectId, deviceId, lineId: kilnBus.id, position, kind: 'serial', unitId, ...kilnSettings };
}

const ports: Port[] = [
  onNet(controller.id, 0, 10, 8),
  onNet(gateway.id, 1, 30, 4),
  onKilnBus(gateway.id, 0, null),
  onKilnBus(fanNorth.id, 1, 11),
  onKilnBus(fanSouth.id, 2, 12),
  onKilnBus(airOn.id, 3, 21),
  onKilnBus(damper.id, 4, 41),
];

type PointFields = Partial<Point> & Place & Pick<Point, 'name' | 'type'>;

const points: Point[] = [];
function point(owner: Device, fields: PointFields): Point {
  const writable = fields.table === 'coil' || fields.table === 'holding';
  const made: Point = {
    id: nextId(),
    projectId,
    deviceId: owner.id,
    note: '',
    order: 'ABCD',
    length: null,
    encoding: null,
    scale: null,
    unit: '',
    access: writable ? 'readWrite' : 'read',
    ...fields,
  };
  points.push(made);
  return made;
}

const tenths = { factor: 0.1, offset: 0 };

const airTemperature = point(airOn, { name: 'Air-on temperature', table: 'input', offset: 10, type: 'float32', order: 'CDAB', unit: '°C' });
const airHumidity = point(airOn, { name: 'Air-on humidity', table: 'input', offset: 12, type: 'float32', order: 'CDAB', unit: '%' });
const airMean = point(airOn, { name: 'Mean temperature', table: 'input', offset: 20, type: 'float32', order: 'CDAB', unit: '°C' });
const airFault = point(airOn, { name: 'Sensor fault', table: 'discrete', offset: 2, type: 'bit' });
const airSerial = point(airOn, { name: 'Serial number', table: 'input', offset: 100, type: 'uint32', order: 'CDAB' });

const damperTarget = point(damper, { name: 'Set point', table: 'holding', offset: 0, type: 'uint16', scale: tenths, unit: '%' });
const damperPosition = point(damper, { name: 'Position', table: 'input', offset: 0, type: 'uint16', scale: tenths, unit: '%' });
const damperOpen = point(damper, { name: 'End position open', table: 'discrete', offset: 0, type: 'bit' });
const damperClosed = point(damper, { name: 'End position closed', table: 'discrete', offset: 1, type: 'bit' });

function fanPoints(fan: Device) {
  return {
    command: point(fan, {
      name: 'Command word',
      table: 'holding',
      offset: 0,
      type: 'bits',
      note: 'Bit 0 on, bit 1 run, bit 7 reset a fault.',
    }),
    target: point(fan, { name: 'Speed set point', table: 'holding', offset: 1, type: 'uint16', scale: tenths, unit: 'Hz' }),
    timeout: point(fan, { name: 'Comms timeout', table: 'holding', offset: 2, type: 'uint16', scale: tenths, unit: 's' }),
    status: point(fan, {
      name: 'Status word',
      table: 'input',
      offset: 0,
      type: 'bits',
      note: 'Bit 0 ready, 1 on, 2 running, 3 fault, 4 at set point.',
    }),
    speed: point(fan, { name: 'Actual speed', table: 'input', offset: 1, type: 'uint16', scale: tenths, unit: 'Hz' }),
    current: point(fan, { name: 'Motor current', table: 'input', offset: 2, type: 'uint16', scale: tenths, unit: 'A' }),
    faultCode: point(fan, {
      name: 'Fault code',
      table: 'input',
      offset: 10,
      type: 'uint16',
      note: '0 none, 7 no communication within the timeout.',
    }),
  };
}
const north = fanPoints(fanNorth);
const south = fanPoints(fanSouth);

function word(offset: number, name: string, fields: Partial<Point> = {}): Point {
  return point(controller, { name, table: 'holding', offset, type: 'uint16', ...fields });
}
function coil(offset: number, name: string): Point {
  return point(controller, { name, table: 'coil', offset, type: 'bit' });
}

const kiln = {
  temperature: word(40, 'Kiln air-on temperature', { type: 'int16', scale: tenths, unit: '°C' }),
  humidity: word(41, 'Kiln air-on humidity', { scale: tenths, unit: '%' }),
  mean: word(42, 'Kiln mean temperature', { type: 'int16', scale: tenths, unit: '°C' }),
  damperPosition: word(44, 'Damper position', { scale: tenths, unit: '%' }),
  serial: word(46, 'Transmitter serial number', { type: 'uint32', order: 'CDAB' }),
  damperTarget: word(50, 'Damper set point', { scale: tenths, unit: '%' }),
  northStatus: word(60, 'Fan north status', { type: 'bits' }),
  northSpeed: word(61, 'Fan north speed', { scale: tenths, unit: 'Hz' }),
  northCurrent: word(62, 'Fan north current', { scale: tenths, unit: 'A' }),
  northFault: word(63, 'Fan north fault code'),
  northCommand: word(64, 'Fan north command', { type: 'bits' }),
  northTarget: word(65, 'Fan north set point', { scale: tenths, unit: 'Hz' }),
  southStatus: word(70, 'Fan south status', { type: 'bits' }),
  southSpeed: word(71, 'Fan south speed', { scale: tenths, unit: 'Hz' }),
  southCurrent: word(72, 'Fan south current', { scale: tenths, unit: 'A' }),
  southFault: word(73, 'Fan south fault code'),
  southCommand: word(74, 'Fan south command', { type: 'bits' }),
  southTarget: word(75, 'Fan south set point', { scale: tenths, unit: 'Hz' }),
  sensorFault: coil(2, 'Air-on sensor fault'),
  damperOpen: coil(3, 'Damper is open'),
  damperClosed: coil(4, 'Damper is closed'),
};

const fast: Round = { id: nextId(), projectId, name: 'Kiln, fast', periodMs: 500, priority: 1 };
const slow: Round = { id: nextId(), projectId, name: 'Kiln, slow', periodMs: 2000, priority: 5 };
const rounds = [fast, slow];

function route(name: string, source: Point, destination: Point, carry: Carry, round: Round = fast): Route {
  return { id: nextId(), projectId, name, note: '', sourceId: source.id, destinationId: destination.id, roundId: round.id, carry };
}

const routes: Route[] = [
  route('Air-on temperature', airTemperature, kiln.temperature, 'value'),
  route('Air-on humidity', airHumidity, kiln.humidity, 'value'),
  route('Mean temperature', airMean, kiln.mean, 'value'),
  route('Sensor fault', airFault, kiln.sensorFault, 'registers'),
  route('Damper position', damperPosition, kiln.damperPosition, 'registers'),
  route('Damper open', damperOpen, kiln.damperOpen, 'registers'),
  route('Damper closed', damperClosed, kiln.damperClosed, 'registers'),
  route('Damper set point', kiln.damperTarget, damperTarget, 'registers'),
  route('Fan north status', north.status, kiln.northStatus, 'registers'),
  route('Fan north speed', north.speed, kiln.northSpeed, 'registers'),
  route('Fan north current', north.current, kiln.northCurrent, 'registers'),
  route('Fan north command', kiln.northCommand, north.command, 'registers'),
  route('Fan north set point', kiln.northTarget, north.target, 'registers'),
  route('Fan south status', south.status, kiln.southStatus, 'registers'),
  route('Fan south speed', south.speed, kiln.southSpeed, 'registers'),
  route('Fan south current', south.current, kiln.southCurrent, 'registers'),
  route('Fan south command', kiln.southCommand, south.command, 'registers'),
  route('Fan south set point', kiln.southTarget, south.target, 'registers'),
  route('Fan north fault code', north.faultCode, kiln.northFault, 'registers', slow),
  route('Fan south fault code', south.faultCode, kiln.southFault, 'registers', slow),
  route('Transmitter serial number', airSerial, kiln.serial, 'registers', slow),
];
