import * as z from 'zod';
import { Duplex, Levels, SerialFraming, SerialSettings } from '../line/index.js';
import { Id, Note } from '../common/index.js';
import { Metres } from './line.js';

const Role = z.enum(['asks', 'answers', 'both']).describe('Whether it asks, as client or master, or answers, as server or slave');

const common = {
  id: Id,
  projectId: Id,
  deviceId: Id,
  lineId: Id,
  position: z.int().min(0).max(10_000).describe('Order along the line'),
  setHow: Note.describe('How it is set on the device: switches, keypad, a page of its own'),
};

const Ip = z.ipv4('An IPv4 address is written like 10.40.8.10.');

const EthernetPort = z.strictObject({
  ...common,
  kind: z.literal('ethernet'),
  ip: Ip,
  mask: z.ipv4('A mask is written like 255.255.255.0.'),
  gateway: Ip.nullable().describe('The way out of its network; null for none'),
  leased: z.boolean().describe('Its address comes from a lease instead of being fixed'),
  role: Role,
  framing: z.enum(['tcp', 'rtu']).describe('Modbus TCP, or RTU frames carried over TCP'),
  tcpPort: z.int('A whole number.').min(1, 'TCP ports start at 1.').max(65_535, 'TCP ports end at 65535.'),
  unitId: z
    .int('A whole number.')
    .min(0, 'Unit IDs start at 0.')
    .max(255, 'Unit IDs end at 255.')
    .describe('255 where the device is reached directly'),
  connections: z
    .int('A whole number.')
    .min(1, 'At least one connection.')
    .max(64, 'At most 64.')
    .describe('How many clients it serves at a time'),
  otherClients: z
    .int('A whole number.')
    .min(0, 'Not less than none.')
    .max(64, 'At most 64.')
    .describe('Clients that connect to it besides Plain Envoy'),
  standInAddress: z
    .ipv4('An IPv4 address is written like 127.40.8.10.')
    .refine((ip) => ip.startsWith('127.'), 'A stand-in listens on a loopback address, which starts with 127.')
    .nullable(),
});

const PassedUnit = z
  .int('A whole number.')
  .min(1, 'Unit IDs on a serial line start at 1.')
  .max(247, 'Unit IDs on a serial line end at 247.');

const SerialPort = z.strictObject({
  ...common,
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
  passes: z
    .array(
      z
        .strictObject({ first: PassedUnit, last: PassedUnit })
        .refine(({ first, last }) => first <= last, { message: 'The last comes before the first.', path: ['last'] }),
    )
    .max(32)
    .default([])
    .describe('For a gateway: the unit IDs that it passes on; none: all'),
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
  handshake: z.enum(['none', 'rts-cts', 'xon-xoff']),
});

const CanPort = z.strictObject({
  ...common,
  kind: z.literal('can'),
  bitrate: z.int('A whole number of bits a second.').min(10_000, 'At least 10 000 bit/s.').max(1_000_000, 'At most 1 000 000 bit/s.'),
  atM: Metres,
  terminated: z.boolean(),
});

const TelecontrolPort = z.strictObject({
  ...common,
  kind: z.literal('telecontrol'),
  role: Role,
  address: z.int('A whole number.').min(0).max(65_519, 'Station addresses end at 65519.'),
});

/** A device's connection to a line, as set on that device, so that a mismatch with the line can be seen. */
export const Port = z.discriminatedUnion('kind', [EthernetPort, SerialPort, CanPort, TelecontrolPort]);
export type Port = z.infer<typeof Port>;
export type EthernetPort = z.infer<typeof EthernetPort>;
export type SerialPort = z.infer<typeof SerialPort>;
export type CanPort = z.infer<typeof CanPort>;
