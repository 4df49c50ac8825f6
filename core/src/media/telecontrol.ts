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
    .describe('none: as the standard has it'),
  listensAt: Ip.default('').describe('Where no outstation is drawn: the address of this machine for the real plant'),
  ownAddress: Address.default(1).describe('Of Plain Envoy, where an end is not drawn'),
  answersMs: Ms.default(5000).describe('Of the control station'),
  clockEveryMs: Ms.nullable().default(3_600_000).describe('none: only when it connects'),
  selectedMs: Ms.default(10_000).describe('Until the command has to follow'),
  eventsEveryMs: Ms.nullable().default(null).describe('none: they are sent unasked'),
  allEveryMs: Ms.default(3_600_000).describe('Everything is asked for'),
  confirmMs: Ms.default(5000).describe('or events are sent again'),
  t1Ms: Ms.default(15_000).describe('Until a receipt has to come'),
  t2Ms: Ms.default(10_000).describe('Until one has to go out'),
  t3Ms: Ms.default(20_000).describe('Without a frame, until the other end is asked'),
  k: z.int('A whole number.').min(1, 'At least one.').max(32_767, 'At most 32 767.').default(12).describe('Without a receipt'),
  w: z.int('A whole number.').min(1, 'At least one.').max(32_767, 'At most 32 767.').default(8).describe('Until a receipt goes out'),
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
    .describe('Of an outstation; then the oldest goes'),
  staleMs: Ms.nullable().default(null).describe('Of a converter: a value that was not written for so long is told as old'),
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
