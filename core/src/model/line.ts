import { z } from 'zod';
import { SerialSettings } from '../line/index.js';
import { Id, Name, Note } from './common.js';

const common = { id: Id, projectId: Id, name: Name, note: Note };

const EthernetLine = z.strictObject({
  ...common,
  kind: z.literal('ethernet'),
  network: z.cidrv4('An IPv4 network is written like 10.40.8.0/24.'),
});

const SerialLine = z.strictObject({
  ...common,
  ...SerialSettings.shape,
  kind: z.literal('serial'),
  standard: z.enum(['rs485-two-wire']),
  framing: z.literal('rtu'),
  lengthM: z.number().min(0, 'A length is not negative.').max(20_000, 'A line of more than 20 km is none.'),
});

/** One serial bus or one Ethernet network, with its settings and its cable. */
export const Line = z.discriminatedUnion('kind', [EthernetLine, SerialLine]);
export type Line = z.infer<typeof Line>;
