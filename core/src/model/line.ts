import * as z from 'zod';
import { SerialFraming, SerialSettings, StandardName } from '../line/index.js';
import { Id, Name, Note } from '../common/index.js';

const common = { id: Id, projectId: Id, name: Name, note: Note };

export const Metres = z.number('A length in metres.').min(0, 'A length is not negative.').max(20_000, 'A line of more than 20 km is none.');
const OhmPerKm = z.number('A resistance in Ω per km.').min(0, 'A resistance is not negative.').max(10_000, 'At most 10 000 Ω per km.');

/** What was laid: its conductors, by the names of `standards[…].signals`, and what is between its ends. */
export const Cable = z.strictObject({
  conductorOhmPerKm: OhmPerKm,
  shieldOhmPerKm: OhmPerKm.nullable().describe('null where it has no shield'),
  reference: z.boolean().describe('A conductor joins the references of all devices'),
  crossing: z.enum(['straight', 'crossed']).describe('Point to point: whether transmit and receive are exchanged on the way'),
  colours: z.record(z.string().max(8), z.string().max(40)).describe('The colour of each wire, by signal'),
  repeatersAtM: z.array(Metres).max(20),
});
export type Cable = z.infer<typeof Cable>;

const EthernetLine = z.strictObject({
  ...common,
  kind: z.literal('ethernet'),
  network: z.cidrv4('An IPv4 network is written like 10.40.8.0/24.'),
});

const SerialLine = z.strictObject({
  ...common,
  ...SerialSettings.shape,
  kind: z.literal('serial'),
  standard: StandardName,
  framing: SerialFraming,
  lengthM: Metres,
  cable: Cable,
  boundTo: z.string().min(1).max(200).nullable().describe('The serial port of this machine that leads to it; null for none'),
});

const CanLine = z.strictObject({
  ...common,
  kind: z.literal('can'),
  bitrate: z.int('A whole number of bits a second.').min(10_000, 'At least 10 000 bit/s.').max(1_000_000, 'At most 1 000 000 bit/s.'),
  identifierBits: z.union([z.literal(11), z.literal(29)]),
  lengthM: Metres,
});

const TelecontrolLine = z.strictObject({
  ...common,
  kind: z.literal('telecontrol'),
  standard: z.enum(['ieee1815', 'iec60870-5-101', 'iec60870-5-104']),
});

/** One serial bus or one Ethernet network, with its settings and its cable; or a line of another kind that a converter joins. */
export const Line = z.discriminatedUnion('kind', [EthernetLine, SerialLine, CanLine, TelecontrolLine]);
export type Line = z.infer<typeof Line>;
export type EthernetLine = z.infer<typeof EthernetLine>;
export type SerialLine = z.infer<typeof SerialLine>;
export type CanLine = z.infer<typeof CanLine>;
