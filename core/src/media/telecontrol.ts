import * as z from 'zod';
import { defineMedium } from './definition.js';
import { ofLine, ofPort, Role, roleNames } from './fields.js';

const standardNames = {
  ieee1815: 'IEEE 1815',
  'iec60870-5-101': 'IEC 60870-5-101',
  'iec60870-5-104': 'IEC 60870-5-104',
} as const;
/** Where outstations of each standard listen. */
const standardPorts = { ieee1815: 20_000, 'iec60870-5-101': null, 'iec60870-5-104': 2404 } as const;

const Ms = z.int('A whole number of milliseconds.').min(100, 'At least 100 ms.').max(86_400_000, 'At most a day.');

const Address = z.int('A whole number.').min(0, 'Addresses count from 0.').max(65_519, 'Station addresses end at 65519.');
const Ip = z.union([z.ipv4('An address as 10.40.8.42.'), z.literal('')]);

export const TelecontrolLine = z.strictObject({
  ...ofLine,
  kind: z.literal('telecontrol'),
  standard: z.enum(['ieee1815', 'iec60870-5-101', 'iec60870-5-104']),
  tcpPort: z
    .int('A whole number.')
    .min(1, 'TCP ports start at 1.')
    .max(65_535, 'TCP ports end at 65535.')
    .nullable()
    .default(null)
    .describe('Where the outstations listen; none: where the standard has it'),
  listensAt: Ip.default('').describe(
    'Where no outstation is drawn: the address of this machine at which Plain Envoy listens as one, on the real plant',
  ),
  ownAddress: Address.default(1).describe('The address of Plain Envoy, where an end is not drawn'),
  answersMs: Ms.default(5000).describe('How long the control station waits for an answer'),
  clockEveryMs: Ms.nullable()
    .default(3_600_000)
    .describe('After how long it sets the clocks again; none: only when it connects, or is asked for the time'),
  selectedMs: Ms.default(10_000).describe('How long a selection holds before the command has to follow'),
  eventsEveryMs: Ms.nullable()
    .default(null)
    .describe('IEEE 1815: between how many ms events are asked for; none: the outstations send them unasked'),
  allEveryMs: Ms.default(3_600_000).describe('IEEE 1815: between how many ms everything is asked for'),
  confirmMs: Ms.default(5000).describe('IEEE 1815: after how long without a confirmation events are sent again'),
  t1Ms: Ms.default(15_000).describe('IEC 60870-5-104, t1: how long a receipt is waited for'),
  t2Ms: Ms.default(10_000).describe('t2: after how long at latest a receipt goes out'),
  t3Ms: Ms.default(20_000).describe('t3: after how long without a frame it is asked whether the other end is there'),
  k: z.int('A whole number.').min(1, 'At least one.').max(32_767, 'At most 32 767.').default(12).describe('k: frames under way'),
  w: z.int('A whole number.').min(1, 'At least one.').max(32_767, 'At most 32 767.').default(8).describe('w: frames until a receipt'),
});
export type TelecontrolLine = z.infer<typeof TelecontrolLine>;

const TelecontrolPort = z.strictObject({
  ...ofPort,
  kind: z.literal('telecontrol'),
  role: Role,
  address: Address,
  ip: Ip.default('').describe('Of an outstation: where it listens'),
  memory: z
    .int('A whole number.')
    .min(1, 'At least one.')
    .max(1_000_000, 'At most 1 000 000.')
    .default(1000)
    .describe('Of an outstation: how many events it keeps until they are confirmed; then the oldest goes'),
  staleMs: Ms.nullable()
    .default(null)
    .describe('Of an outstation that is a converter: a value that Modbus has not written for so long is told as old; none: never'),
});
export type TelecontrolPort = z.infer<typeof TelecontrolPort>;

export const telecontrol = defineMedium<typeof TelecontrolLine, typeof TelecontrolPort>({
  label: 'Telecontrol',
  line: TelecontrolLine,
  port: TelecontrolPort,
  carriesModbus: () => false,
  blankLine: (ids) => TelecontrolLine.parse({ ...ids, kind: 'telecontrol', standard: 'ieee1815' }),
  blankPort: (_, here, ids) =>
    TelecontrolPort.parse({ ...ids, kind: 'telecontrol', role: here.length ? 'answers' : 'asks', address: ids.position + 1 }),
  whyFull: () => null,
  ofPlace: ['address', 'ip'],
  expected: () => ({}),
  takenFrom: () => ({}),
  columns: [
    { key: 'address', head: 'Address' },
    { key: 'role', head: 'Role', text: ({ role }) => stationNames[role] },
    { key: 'ip', head: 'Listens at' },
    { key: 'memory', head: 'Keeps events', text: ({ role, memory }) => (role === 'answers' ? String(memory) : '') },
  ],
  lineCell: () => null,
  describeLine: ({ standard }) => `Telecontrol, ${standardNames[standard]}`,
  describePort: ({ address }) => `station ${address}`,
  describeSettings: ({ address }) => `address ${address}`,
});

const stationNames = { asks: 'control station', answers: 'outstation', both: roleNames.both } as const;

/** Where an outstation of a line listens; null for a standard that does not go over TCP. */
export function telecontrolPort({ tcpPort, standard }: Pick<TelecontrolLine, 'tcpPort' | 'standard'>): number | null {
  return standardPorts[standard] && (tcpPort ?? standardPorts[standard]);
}

/** A standard in words. */
export function standardName({ standard }: Pick<TelecontrolLine, 'standard'>): string {
  return standardNames[standard];
}
