import { z } from 'zod';
import { SerialSettings } from '../line/index.js';
import { Id } from './common.js';

const common = {
  id: Id,
  projectId: Id,
  deviceId: Id,
  lineId: Id,
  position: z.int().min(0).max(10_000).describe('Order along the line'),
};

const EthernetPort = z.strictObject({
  ...common,
  kind: z.literal('ethernet'),
  ip: z.ipv4('An IPv4 address is written like 10.40.8.10.'),
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
  standInAddress: z
    .ipv4('An IPv4 address is written like 127.40.8.10.')
    .refine((ip) => ip.startsWith('127.'), 'A stand-in listens on a loopback address, which starts with 127.')
    .nullable(),
});

const SerialPort = z.strictObject({
  ...common,
  ...SerialSettings.shape,
  kind: z.literal('serial'),
  unitId: z
    .int('A whole number.')
    .min(1, 'Unit IDs on a serial line are 1 to 247; 0 is broadcast, which nobody answers.')
    .max(247, 'Unit IDs on a serial line are 1 to 247; 248 to 255 are reserved by the standard.')
    .nullable()
    .describe('null for the one that asks'),
});

/** A device's connection to a line, as set on that device, so that a mismatch with the line can be seen. */
export const Port = z.discriminatedUnion('kind', [EthernetPort, SerialPort]);
export type Port = z.infer<typeof Port>;
export type EthernetPort = z.infer<typeof EthernetPort>;
export type SerialPort = z.infer<typeof SerialPort>;
