import * as z from 'zod';
import type { ModbusFraming } from '../frame/index.js';
import {
  Duplex,
  formatSettings,
  Handshake,
  Levels,
  type PortSettings,
  SerialFraming,
  SerialSettings,
  settingsOf,
  StandardName,
  standards,
  USUAL_TURNAROUND_MS,
} from '../line/index.js';
import { blankCable, Cable } from './cable.js';
import { defineMedium } from './definition.js';
import { Metres, ofLine, ofPort } from './fields.js';

const MAX_UNIT = 247;

const ForwardedUnit = z
  .int('A whole number.')
  .min(0, 'Unit IDs start at 0, which is a broadcast to all.')
  .max(MAX_UNIT, 'Unit IDs on a serial line end at 247.');

/** What is done with what a serial port of this machine hears of itself: nothing, as it hears nothing, or it is cut away. */
export const localEchoes = ['none', 'cut away'] as const;

const SerialLine = z.strictObject({
  ...ofLine,
  ...SerialSettings.shape,
  kind: z.literal('serial'),
  standard: StandardName,
  framing: SerialFraming,
  lengthM: Metres,
  cable: Cable,
  turnaroundMs: z
    .int('A whole number of milliseconds.')
    .min(10, 'At least 10 ms.')
    .max(5000, 'At most 5000 ms.')
    .default(USUAL_TURNAROUND_MS)
    .describe('After a broadcast, which nobody answers: how long the devices have to take it'),
  boundTo: z
    .string()
    .min(1)
    .max(200)
    .nullable()
    .describe('What leads to it: a serial port of this machine or, to a text line, a serial server as address:port; null for nothing'),
  localEcho: z.enum(localEchoes).default('none').describe('Whether that port hears what it sends itself, and what is done with it'),
});
export type SerialLine = z.infer<typeof SerialLine>;

/** A serial line that carries Modbus. */
export type ModbusLine = SerialLine & { framing: ModbusFraming };

export function isModbusLine(line: { kind: string; framing?: string } | undefined): line is ModbusLine {
  return line?.kind === 'serial' && line.framing !== 'text';
}

const SerialPort = z.strictObject({
  ...ofPort,
  ...SerialSettings.shape,
  kind: z.literal('serial'),
  framing: SerialFraming,
  levels: Levels,
  duplex: Duplex,
  unitId: z
    .int('A whole number.')
    .min(0, 'Unit IDs start at 0.')
    .max(255, 'A unit ID is one byte: 0 to 255.')
    .nullable()
    .describe('null for the one that asks'),
  forwardedUnits: z
    .array(
      z
        .strictObject({ first: ForwardedUnit, last: ForwardedUnit })
        .refine(({ first, last }) => first <= last, { message: 'The last comes before the first.', path: ['last'] }),
    )
    .max(32)
    .default([])
    .describe('For a gateway: the unit IDs that it passes on, 0 where it passes broadcasts on; none: 1 to 247'),
  atM: Metres.describe('Where it hangs on the cable, from the beginning'),
  stubM: Metres.describe('From the trunk to its terminals'),
  terminated: z.boolean().describe('A resistor across the pair, at or in this device'),
  bias: z.boolean().describe('It pulls the idle pair apart'),
  shield: z.enum(['grounded', 'open']),
  reference: z.enum(['direct', 'resistance', 'none']).describe('How its reference joins the reference conductor and its earth'),
  isolated: z.boolean().describe('Its receiver is isolated from its earth'),
  earthV: z
    .number('A voltage.')
    .min(-1000, 'At most 1000 V either way.')
    .max(1000, 'At most 1000 V either way.')
    .describe('Its local earth against the main earth'),
  unitLoads: z.number().min(0.03, 'At least a thirty-second of a unit load.').max(4, 'At most 4 unit loads.'),
  driverLoads: z.int('A whole number.').min(1).max(256).describe('How many unit loads its driver drives; 32 by the standard'),
  terminals: z.record(z.string().max(8), z.string().max(20)).describe('The name of its terminal, by signal'),
  plug: z.enum(['dte', 'dce']).describe('RS-232: which side transmits on TX'),
  handshake: Handshake,
});
export type SerialPort = z.infer<typeof SerialPort>;

const framingNames = { rtu: 'RTU', ascii: 'ASCII', text: 'text' } as const;

/** How a port of this machine on a line is opened: as the line is set, with the handshake of the first port there which has one. */
export function portSettingsOn(ports: readonly { lineId: string; handshake?: Handshake }[], line: SerialLine): PortSettings {
  const own = ports.find((port) => port.lineId === line.id && port.handshake && port.handshake !== 'none');
  return { ...settingsOf(line), handshake: own?.handshake ?? 'none' };
}

/** The address and port of a serial server, where a text line is bound to one: `10.40.8.60:4001`; null for a port of this machine. */
export function serialServerAt(boundTo: string): { host: string; port: number } | null {
  const [, host, port] = /^([\w.-]+):(\d{1,5})$/.exec(boundTo) ?? [];
  return host !== undefined && Number(port) >= 1 && Number(port) <= 65_535 ? { host, port: Number(port) } : null;
}

/** What a port must share with its line. The line's standard tells levels and duplex. */
export function expectedOf({ baud, dataBits, parity, stopBits, framing, standard }: SerialLine) {
  const { levels, duplex } = standards[standard];
  return { baud, dataBits, parity, stopBits, framing, levels, duplex };
}

export const serial = defineMedium<typeof SerialLine, typeof SerialPort>({
  label: 'Serial: RS-485, RS-422 or RS-232',
  line: SerialLine,
  port: SerialPort,
  carriesModbus: ({ framing }) => framing !== 'text',
  blankLine: (ids) => ({
    ...ids,
    kind: 'serial',
    standard: 'rs485-two-wire',
    framing: 'rtu',
    ...{ baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 },
    lengthM: 100,
    cable: blankCable('rs485-two-wire'),
    turnaroundMs: USUAL_TURNAROUND_MS,
    boundTo: null,
    localEcho: 'none',
  }),
  blankPort: (line, here, ids, asks) => ({
    ...ids,
    ...expectedOf(line),
    kind: 'serial',
    unitId: asks || line.framing === 'text' ? null : freeUnit(here),
    atM: Math.min(line.lengthM, Math.max(0, ...here.map(({ atM }) => atM)) + (here.length ? 5 : 0)),
    ...{ stubM: 0, terminated: false, bias: false, shield: 'open', reference: 'resistance', isolated: false, earthV: 0 },
    ...{ unitLoads: 1, driverLoads: 32, terminals: {}, forwardedUnits: [], plug: here.length ? 'dce' : 'dte', handshake: 'none' },
  }),
  whyFull: ({ name, framing }, here, asks) =>
    !asks && framing !== 'text' && here.length >= MAX_UNIT ? `${name} has no free unit ID left.` : null,
  ofPlace: ['unitId', 'atM', 'terminated', 'bias'],
  expected: expectedOf,
  takenFrom: (_, { baud, dataBits, parity, stopBits, framing }) => ({ baud, dataBits, parity, stopBits, framing }),
  columns: [
    {
      key: 'unitId',
      head: 'Unit ID',
      text: ({ unitId, framing }) => (unitId !== null ? String(unitId) : framing === 'text' ? '' : 'asks'),
    },
    { key: 'baud', head: 'Baud' },
    { key: 'dataBits', head: 'Data' },
    { key: 'parity', head: 'Parity' },
    { key: 'stopBits', head: 'Stop' },
    { key: 'framing', head: 'Framing' },
    { key: 'duplex', head: 'Duplex' },
    { key: 'levels', head: 'Levels' },
    { key: 'atM', head: 'At, m' },
  ],
  lineCell: () => null,
  describeLine: (line) => `${standards[line.standard].name} · ${formatSettings(line)} ${framingNames[line.framing]} · ${line.lengthM} m`,
  describePort: ({ unitId, framing }) => (unitId !== null ? `unit ${unitId}` : framing === 'text' ? 'text' : 'asks'),
  describeSettings: formatSettings,
});

function freeUnit(here: readonly SerialPort[]): number {
  const used = new Set(here.map(({ unitId }) => unitId));
  const highest = Math.max(0, ...here.map(({ unitId }) => unitId ?? 0));
  if (highest < MAX_UNIT) return highest + 1;
  return Array.from({ length: MAX_UNIT }, (_, index) => index + 1).find((unit) => !used.has(unit)) ?? MAX_UNIT;
}
