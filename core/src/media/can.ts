import * as z from 'zod';
import { defineMedium } from './definition.js';
import { Metres, ofLine, ofPort } from './fields.js';

const Bitrate = z.int('A whole number of bits a second.').min(10_000, 'At least 10 000 bit/s.').max(1_000_000, 'At most 1 000 000 bit/s.');

const CanLine = z.strictObject({
  ...ofLine,
  kind: z.literal('can'),
  bitrate: Bitrate,
  identifierBits: z.union([z.literal(11), z.literal(29)]),
  lengthM: Metres,
});
export type CanLine = z.infer<typeof CanLine>;

const CanPort = z.strictObject({ ...ofPort, kind: z.literal('can'), bitrate: Bitrate, atM: Metres, terminated: z.boolean() });
export type CanPort = z.infer<typeof CanPort>;

export const can = defineMedium<typeof CanLine, typeof CanPort>({
  label: 'CAN',
  line: CanLine,
  port: CanPort,
  carriesModbus: () => false,
  blankLine: (ids) => ({ ...ids, kind: 'can', bitrate: 250_000, identifierBits: 29, lengthM: 40 }),
  blankPort: ({ bitrate }, _, ids) => ({ ...ids, kind: 'can', bitrate, atM: 0, terminated: false }),
  whyFull: () => null,
  ofPlace: ['terminated'],
  expected: ({ bitrate }) => ({ bitrate }),
  takenFrom: (_, { bitrate }) => ({ bitrate }),
  columns: [
    { key: 'bitrate', head: 'Bit/s' },
    { key: 'atM', head: 'At, m' },
    { key: 'terminated', head: 'Terminated' },
  ],
  lineCell: () => null,
  describeLine: ({ bitrate, identifierBits }) => `CAN ${bitrate / 1000} kbit/s · ${identifierBits}-bit identifiers`,
  describePort: () => 'CAN',
  describeSettings: ({ bitrate }) => `${bitrate / 1000} kbit/s`,
});
