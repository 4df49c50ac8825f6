import * as z from 'zod';
import { defineMedium } from './definition.js';
import { ofLine, ofPort, Role, roleNames } from './fields.js';

const standardNames = {
  ieee1815: 'IEEE 1815',
  'iec60870-5-101': 'IEC 60870-5-101',
  'iec60870-5-104': 'IEC 60870-5-104',
} as const;

const TelecontrolLine = z.strictObject({
  ...ofLine,
  kind: z.literal('telecontrol'),
  standard: z.enum(['ieee1815', 'iec60870-5-101', 'iec60870-5-104']),
});

const TelecontrolPort = z.strictObject({
  ...ofPort,
  kind: z.literal('telecontrol'),
  role: Role,
  address: z.int('A whole number.').min(0).max(65_519, 'Station addresses end at 65519.'),
});

export const telecontrol = defineMedium<typeof TelecontrolLine, typeof TelecontrolPort>({
  label: 'Telecontrol',
  line: TelecontrolLine,
  port: TelecontrolPort,
  carriesModbus: () => false,
  blankLine: (ids) => ({ ...ids, kind: 'telecontrol', standard: 'ieee1815' }),
  blankPort: (_, here, ids) => ({ ...ids, kind: 'telecontrol', role: here.length ? 'answers' : 'asks', address: ids.position + 1 }),
  whyFull: () => null,
  ofPlace: [],
  expected: () => ({}),
  takenFrom: () => ({}),
  columns: [
    { key: 'address', head: 'Address' },
    { key: 'role', head: 'Role', text: ({ role }) => roleNames[role] },
  ],
  lineCell: () => null,
  describeLine: ({ standard }) => `Telecontrol, ${standardNames[standard]}`,
  describePort: ({ role, address }) => `${roleNames[role]} · ${address}`,
  describeSettings: ({ address }) => `address ${address}`,
});
