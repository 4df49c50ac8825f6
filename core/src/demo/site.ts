import { blankDevice, BY_ITS_MAP, type Device } from '../model/index.js';
import { type ShippedProgram, shippedPrograms } from '../played/index.js';
import { standards } from '../line/index.js';
import { nextId, projectId } from './ids.js';
import {
  type CanPort,
  type CyclicPort,
  type EthernetPort,
  type Line,
  type Port,
  type SerialLine,
  type SerialPort,
  blankCable,
} from '../media/index.js';

/** The lines of the plant, its devices, and how each is set and wired. */
const id = () => ({ id: nextId(), projectId });

const processNet: Line = { ...id(), name: 'Process net', note: '', kind: 'ethernet', network: '10.40.8.0/24' };

function serialLine(
  fields: Pick<SerialLine, 'name' | 'standard' | 'framing' | 'baud' | 'dataBits' | 'parity' | 'lengthM'> & Partial<SerialLine>,
) {
  const cable = { ...blankCable(fields.standard), ...fields.cable };
  return {
    ...id(),
    note: '',
    kind: 'serial',
    stopBits: 1,
    turnaroundMs: 100,
    boundTo: null,
    localEcho: 'none',
    ...fields,
    cable,
  } satisfies SerialLine;
}

const kilnBus = serialLine({
  name: 'Kiln bus',
  standard: 'rs485-two-wire',
  framing: 'rtu',
  baud: 19_200,
  dataBits: 8,
  parity: 'even',
  lengthM: 430,
  cable: { ...blankCable('rs485-two-wire'), colours: { 'D+': 'white', 'D−': 'brown', C: 'green' } },
});
const loftBus = serialLine({
  name: 'Loft bus',
  standard: 'rs485-two-wire',
  framing: 'rtu',
  baud: 9600,
  dataBits: 8,
  parity: 'none',
  lengthM: 820,
  cable: { ...blankCable('rs485-two-wire'), colours: { 'D+': 'yellow', 'D−': 'green', C: 'grey' } },
});
const weighbridgeCable = serialLine({
  name: 'Weighbridge cable',
  standard: 'rs232',
  framing: 'text',
  baud: 9600,
  dataBits: 7,
  parity: 'even',
  lengthM: 9,
});
const moistureCable = serialLine({
  name: 'Moisture cable',
  standard: 'rs232',
  framing: 'text',
  baud: 9600,
  dataBits: 8,
  parity: 'none',
  lengthM: 6,
});
const turnerCan: Line = { ...id(), name: 'Turner CAN', note: '', kind: 'can', bitrate: 250_000, identifierBits: 29, lengthM: 60 };
const gridLink: Line = {
  ...id(),
  ...{
    name: 'Grid link',
    note: '',
    kind: 'telecontrol',
    standard: 'ieee1815',
    tcpPort: null,
    listensAt: '',
    ownAddress: 1,
    answersMs: 5000,
    clockEveryMs: 3_600_000,
  },
  ...{ selectedMs: 10_000, eventsEveryMs: null, allEveryMs: 3_600_000, confirmMs: 5000 },
  ...{ t1Ms: 15_000, t2Ms: 10_000, t3Ms: 20_000, k: 12, w: 8 },
};
const siloLink: Line = {
  ...id(),
  ...{ name: 'Silo link', note: '', kind: 'cyclic', inputBytes: 16, outputBytes: 12, intervalMs: 100, missed: 4 },
  ...{ inputValidByte: null, inputValidValue: 1, outputValidByte: 0, outputValidValue: 1, whenLost: 'zero' },
};

export const lines: Line[] = [processNet, kilnBus, loftBus, weighbridgeCable, moistureCable, turnerCan, gridLink, siloLink];

/** Function codes beside those of registers: who it is; and what it has counted on its line. */
const IDENTIFICATION = 43;
const COUNTING = [8, 11, 12, 17];
const withCounters = [...blankDevice('').functionCodes, ...COUNTING, IDENTIFICATION];

export const devices: Device[] = [];
/** `plays`: which program its stand-in runs. */
function device({ plays, ...given }: Partial<Device> & Pick<Device, 'name' | 'kind'> & { plays?: ShippedProgram }): Device {
  const fields = plays ? { ...given, standIn: BY_ITS_MAP, program: shippedPrograms[plays] } : given;
  const blank = blankDevice(fields.name);
  const made: Device = {
    ...id(),
    ...blank,
    ...(fields.standIn ? { functionCodes: [...blank.functionCodes, IDENTIFICATION] } : {}),
    ...fields,
  };
  devices.push(made);
  return made;
}

/** A gateway's own wait is the time after which it gives a silent device up. */
const GATEWAY_WAITS_MS = 250;

export const plant = {
  kilnController: device({
    name: 'Kiln controller',
    kind: 'controller',
    notation: 'area',
    plays: 'kiln-controller',
    note: 'Its package takes one-based numbers.',
    entry: 'subtractsOne',
    areas: [
      { name: 'W', table: 'holding', firstIndex: 0, offset: 0, stride: 1, count: 512, firstBit: 0 },
      { name: 'B', table: 'coil', firstIndex: 0, offset: 0, stride: 1, count: 512, firstBit: null },
    ],
    image: {
      bytes: 64,
      refreshMs: 10,
      evenWide: false,
      windows: [
        { lineId: processNet.id, use: 'reads', table: 'holding', offset: 400, byte: 0, bytes: 32, order: 'high-first' },
        { lineId: siloLink.id, use: 'writes', byte: 0, bytes: 32, order: 'high-first' },
        { lineId: processNet.id, use: 'writes', table: 'holding', offset: 420, byte: 32, bytes: 32, order: 'high-first' },
        { lineId: siloLink.id, use: 'reads', byte: 32, bytes: 32, order: 'high-first' },
      ],
    },
  }),
  kilnGateway: device({ name: 'Kiln gateway', kind: 'gateway', standIn: 'gateway', timeoutMs: GATEWAY_WAITS_MS, delayMs: 1 }),
  fanNorth: device({
    name: 'Fan drive north',
    kind: 'field',
    notation: 'number',
    plays: 'fan-drive',
    functionCodes: withCounters,
    writeTimeoutMs: 3000,
  }),
  fanSouth: device({
    name: 'Fan drive south',
    kind: 'field',
    notation: 'number',
    plays: 'fan-drive',
    functionCodes: withCounters,
    writeTimeoutMs: 3000,
  }),
  airOn: device({ name: 'Air-on transmitter', kind: 'field', notation: 'reference5', plays: 'air-on-transmitter' }),
  damper: device({ name: 'Exhaust damper', kind: 'field', notation: 'number', plays: 'exhaust-damper', functionCodes: withCounters }),
  meter: device({
    name: 'Plant meter',
    kind: 'field',
    notation: 'reference6',
    plays: 'plant-meter',
    readAcrossHoles: false,
    note: 'Energy counters have the two bytes of each register swapped.',
    functionCodes: [...blankDevice('').functionCodes, 20, 21, IDENTIFICATION],
    forbidden: [
      { table: 'holding', first: 7398, last: 7415 },
      { table: 'holding', first: 7428, last: 7439 },
    ],
  }),
  steepController: device({
    name: 'Steep controller',
    kind: 'controller',
    notation: 'reference6',
    plays: 'steep-controller',
    functionCodes: [...blankDevice('').functionCodes, 23, IDENTIFICATION],
    note: '32-bit values have their low word first.',
  }),
  burner: device({
    name: 'Burner control',
    kind: 'field',
    plays: 'burner-control',
    writeTimeoutMs: 4000,
    note: 'The command word counts only after the release word was set; trips if it is not written for 4 s.',
  }),
  floor: device({ name: 'Floor I/O block', kind: 'field', plays: 'floor-io' }),
  loftGateway: device({ name: 'Loft gateway', kind: 'gateway', standIn: 'gateway', timeoutMs: GATEWAY_WAITS_MS, delayMs: 1 }),
  textPort: device({
    name: 'Text port',
    kind: 'converter',
    standIn: BY_ITS_MAP,
    note: 'Text to registers: an image of 80 bytes, which the two cables write.',
    image: {
      bytes: 80,
      refreshMs: 10,
      evenWide: false,
      windows: [
        { lineId: processNet.id, use: 'reads', table: 'input', offset: 0, byte: 0, bytes: 80, order: 'high-first' },
        { lineId: weighbridgeCable.id, use: 'writes', byte: 0, bytes: 32, order: 'high-first' },
        { lineId: moistureCable.id, use: 'writes', byte: 32, bytes: 48, order: 'high-first' },
      ],
    },
  }),
  turnerConverter: device({
    name: 'Turner converter',
    kind: 'converter',
    standIn: BY_ITS_MAP,
    note: 'Frames to registers: an image of 16 bytes that CAN writes, and 16 that it reads.',
    image: {
      bytes: 32,
      refreshMs: 10,
      evenWide: false,
      windows: [
        { lineId: processNet.id, use: 'reads', table: 'input', offset: 0, byte: 0, bytes: 16, order: 'high-first' },
        { lineId: turnerCan.id, use: 'writes', byte: 0, bytes: 16, order: 'high-first' },
        { lineId: processNet.id, use: 'writes', table: 'holding', offset: 0, byte: 16, bytes: 16, order: 'high-first' },
        { lineId: turnerCan.id, use: 'reads', byte: 16, bytes: 16, order: 'high-first' },
      ],
    },
  }),
  gridConverter: device({
    name: 'Grid converter',
    kind: 'converter',
    standIn: BY_ITS_MAP,
    note: 'Registers to points of telecontrol: an image of 32 bytes that the controller writes, and 32 that the grid station does.',
    image: {
      bytes: 64,
      refreshMs: 10,
      evenWide: false,
      windows: [
        { lineId: processNet.id, use: 'writes', table: 'holding', offset: 0, byte: 0, bytes: 32, order: 'high-first' },
        { lineId: gridLink.id, use: 'reads', byte: 0, bytes: 32, order: 'high-first' },
        { lineId: processNet.id, use: 'reads', table: 'input', offset: 0, byte: 32, bytes: 32, order: 'high-first' },
        { lineId: gridLink.id, use: 'writes', byte: 32, bytes: 32, order: 'high-first' },
      ],
    },
  }),
  display: device({ name: 'Yard display', kind: 'field', notation: 'number', plays: 'yard-display' }),
  humidity: device({
    name: 'Loft humidity bridge',
    kind: 'field',
    notation: 'number',
    plays: 'humidity-bridge',
    tries: 4,
    lossPercent: 3,
    note: 'Wireless behind it: about 3 % of its answers are lost.',
  }),
  grain: [1, 2, 3, 4, 5, 6].map((number) =>
    device({ name: `Grain cable ${number}`, kind: 'field', notation: 'number', plays: 'grain-cable', functionCodes: withCounters }),
  ),
  indicator: device({ name: 'Weigh indicator', kind: 'field', plays: 'weigh-indicator', note: 'Sends text ended by CR.' }),
  analyser: device({
    name: 'Moisture analyser',
    kind: 'field',
    plays: 'moisture-analyser',
    note: 'Sends 24 characters without an end mark.',
  }),
  turner: device({
    name: 'Floor turner',
    kind: 'field',
    plays: 'floor-turner',
    writeTimeoutMs: 3000,
    note: 'Stops when the number that comes with its speed stands still for 3 s.',
  }),
  conveyor: device({
    name: 'Silo conveyor',
    kind: 'field',
    plays: 'silo-conveyor',
    note: 'A station of the kiln controller: 16 bytes in, 12 out, the lowest byte of each value first.',
  }),
  gridStation: device({
    name: 'Grid station',
    kind: 'controller',
    plays: 'grid-station',
    note: 'Belongs to the grid: it hears power and alarms, and says how much may be drawn.',
  }),
};

export const ports: Port[] = [];

function onNet(owner: Device, host: number, fields: Partial<EthernetPort> = {}): void {
  ports.push({
    ...id(),
    deviceId: owner.id,
    lineId: processNet.id,
    position: ports.filter((port) => port.lineId === processNet.id).length,
    setHow: 'On its own page, under network.',
    kind: 'ethernet',
    ip: `10.40.8.${host}`,
    mask: '255.255.255.0',
    gateway: null,
    leased: false,
    role: 'answers',
    framing: 'tcp',
    tcpPort: 502,
    unitId: 255,
    connections: 4,
    otherClients: 0,
    openTransactions: 4,
    standInAddress: `127.40.8.${host}`,
    ...fields,
  });
}

/** Set as its line is, and wired as it should be, but for what is said. */
function onSerial(owner: Device, line: SerialLine, unitId: number | null, atM: number, fields: Partial<SerialPort> = {}): void {
  const { baud, dataBits, parity, stopBits, framing, standard } = line;
  const { levels, duplex } = standards[standard];
  ports.push({
    ...id(),
    deviceId: owner.id,
    lineId: line.id,
    position: ports.filter((port) => port.lineId === line.id).length,
    setHow: '',
    kind: 'serial',
    ...{ baud, dataBits, parity, stopBits, framing, levels, duplex },
    unitId,
    atM,
    stubM: 0,
    terminated: false,
    bias: false,
    shield: 'open',
    reference: 'resistance',
    isolated: false,
    earthV: 0,
    unitLoads: 1,
    driverLoads: 32,
    terminals: {},
    forwardedUnits: [],
    plug: 'dte',
    handshake: 'none',
    ...fields,
  });
}

onNet(plant.kilnController, 10, { connections: 8, role: 'both', setHow: 'In its programming package, under ports.' });
onNet(plant.steepController, 11, { role: 'both' });
onNet(plant.burner, 21, { connections: 2, setHow: 'On its keypad, menu 7.' });
onNet(plant.floor, 22);
onNet(plant.kilnGateway, 30);
onNet(plant.loftGateway, 31);
onNet(plant.textPort, 40);
onNet(plant.turnerConverter, 41);
onNet(plant.gridConverter, 42);
onNet(plant.display, 50, { connections: 1 });

const masterPort = { terminated: true, bias: true, shield: 'grounded', setHow: 'On its own page, under serial port.' } as const;
const onDrive = { terminals: { 'D+': '21', 'D−': '22', C: '23' }, setHow: 'On its keypad, menu “Bus”.' };
onSerial(plant.kilnGateway, kilnBus, null, 0, { ...masterPort, terminals: { 'D+': 'A', 'D−': 'B', C: 'SG' } });
onSerial(plant.fanNorth, kilnBus, 11, 120, onDrive);
onSerial(plant.fanSouth, kilnBus, 12, 131, { ...onDrive, parity: 'none' });
onSerial(plant.airOn, kilnBus, 21, 260, {
  terminals: { 'D+': '5', 'D−': '6', C: '7' },
  setHow: 'Switches 1 to 5 are the unit ID in binary.',
});
onSerial(plant.meter, kilnBus, 31, 340, {
  isolated: true,
  terminals: { 'D+': '13', 'D−': '14', C: '15' },
  setHow: 'In its menu, last page.',
});
onSerial(plant.damper, kilnBus, 41, 430, {
  terminated: true,
  terminals: { 'D+': 'X2', 'D−': 'X1', C: 'X3' },
  setHow: 'Two rotary switches: tens and ones.',
});

onSerial(plant.loftGateway, loftBus, null, 0, { ...masterPort, terminals: { 'D+': 'A', 'D−': 'B', C: 'SG' } });
const SET_TO = [1, 2, 3, 4, 5, 5];
plant.grain.forEach((cable, index) =>
  onSerial(cable, loftBus, SET_TO[index]!, 240 + index * 90, {
    terminals: { 'D+': '1', 'D−': '2', C: '3' },
    unitLoads: 0.25,
    setHow: 'Jumpers J1 to J4 are the unit ID in binary, read at power-up.',
  }),
);
onSerial(plant.humidity, loftBus, 20, 820, { terminated: true, terminals: { 'D+': 'B+', 'D−': 'A−', C: '0V' } });

const indicated = { reference: 'none', earthV: 0 } as const;
onSerial(plant.textPort, weighbridgeCable, null, 0, { ...indicated, shield: 'grounded' });
onSerial(plant.indicator, weighbridgeCable, null, 9, indicated);
onSerial(plant.textPort, moistureCable, null, 0, { ...indicated, shield: 'grounded' });
onSerial(plant.analyser, moistureCable, null, 6, indicated);

function onCan(owner: Device, atM: number): void {
  const position = ports.filter((port) => port.lineId === turnerCan.id).length;
  const set: Omit<CanPort, 'id' | 'projectId'> = {
    ...{ deviceId: owner.id, lineId: turnerCan.id, position, setHow: '', kind: 'can' },
    ...{ bitrate: 250_000, atM, terminated: true },
  };
  ports.push({ ...id(), ...set });
}
onCan(plant.turnerConverter, 0);
onCan(plant.turner, 60);

/** The converter is the outstation; it keeps events while the link is down, and tells as old what the controller no longer writes. */
for (const [position, owner] of [plant.gridStation, plant.gridConverter].entries()) {
  const own =
    position === 0
      ? ({ role: 'asks', address: 12, ip: '', memory: 1000, staleMs: null } as const)
      : ({ role: 'answers', address: 13, ip: '10.40.8.42', memory: 500, staleMs: 30_000 } as const);
  ports.push({ ...id(), deviceId: owner.id, lineId: gridLink.id, position, setHow: '', kind: 'telecontrol', ...own });
}

/** The conveyor stands at zero while the kiln controller does not say that its outputs are valid. */
function onLink(
  owner: Device,
  role: CyclicPort['role'],
  lamps: Pick<CyclicPort, 'lampRunning' | 'lampNotValid' | 'lampOpening' | 'lampRefused' | 'lampLost'>,
): void {
  const position = ports.filter((port) => port.lineId === siloLink.id).length;
  const set: Omit<CyclicPort, 'id' | 'projectId'> = {
    ...{ deviceId: owner.id, lineId: siloLink.id, position, setHow: '', kind: 'cyclic', role, ...lamps },
    ...{ inputBytes: 16, outputBytes: 12, inputLabel: 'block 1', outputLabel: 'block 2' },
  };
  ports.push({ ...id(), ...set });
}
onLink(plant.kilnController, 'opens', {
  ...{ lampRunning: 'LINK is lit', lampNotValid: 'LINK is lit', lampOpening: 'LINK blinks slowly' },
  ...{ lampRefused: 'LINK blinks twice and pauses', lampLost: 'LINK blinks fast' },
});
onLink(plant.conveyor, 'answers', {
  ...{ lampRunning: 'RUN is lit, COM is lit', lampNotValid: 'RUN is dark, COM is lit', lampOpening: 'COM is dark' },
  ...{ lampRefused: 'COM blinks', lampLost: 'RUN is dark, COM blinks' },
});
