import * as z from 'zod';
import { Area, EntryRule, Offset, Notation, Table } from '../address/index.js';
import { Id, Name, Note } from '../common/index.js';
import { Image } from '../image/index.js';
import { Coupler } from '../modules/index.js';
import { Identification, noIdentification } from '../identity/index.js';

/** A stretch that a device refuses to be read across; both ends count. */
export const Forbidden = z
  .strictObject({ table: Table, first: Offset, last: Offset })
  .refine(({ first, last }) => first <= last, { message: 'The last comes before the first.', path: ['last'] });
export type Forbidden = z.infer<typeof Forbidden>;

/** A figure that the standard allows up to `standard` (Modbus application protocol V1.1b3, section 6), which is what is taken. */
function atMost(standard: number) {
  return z.int('A whole number.').min(1, 'At least one.').max(standard, `The standard allows at most ${standard}.`).default(standard);
}

/** The stand-in that has the registers of a device's map, and nothing of its own. */
export const BY_ITS_MAP = 'register-map';

/** A recording that is attached to a device, and who is the device in it: the address and port, or the line, that was asked, and the unit there. */
export const DeviceRecording = z.strictObject({
  file: z.string().min(1, 'Which file?').max(200, 'At most 200 characters.'),
  endpointId: z.string().min(1).max(200),
  unit: z.int().min(0).max(255),
});
export type DeviceRecording = z.infer<typeof DeviceRecording>;

/** Anything with a port on a line. */
export const Device = z.strictObject({
  id: Id,
  projectId: Id,
  name: Name,
  note: Note,
  kind: z.enum(['controller', 'field', 'gateway', 'converter']),
  notation: Notation.describe('How its papers write addresses'),
  entry: EntryRule.default('asIs').describe('How its programming package takes an address'),
  areas: z.array(Area).max(32),
  forbidden: z.array(Forbidden).max(1000).default([]).describe('Holes that it refuses to be read across'),
  readAcrossHoles: z.boolean().default(true).describe('Registers between points may be read along with them'),
  functionCodes: z
    .array(z.int('A function code is a whole number.').min(1, 'From 1.').max(127, 'To 127.'))
    .max(30)
    .default([1, 2, 3, 4, 5, 6, 15, 16])
    .describe('Function codes that it has'),
  maxReadWords: atMost(125).describe('Registers that one request reads at most'),
  maxReadBits: atMost(2000).describe('Coils or inputs that one request reads at most'),
  maxWriteWords: atMost(123).describe('Registers that one request writes at most'),
  maxWriteBits: atMost(1968).describe('Coils that one request writes at most'),
  timeoutMs: z.int('A whole number of milliseconds.').min(20, 'Under 20 ms no device answers reliably.').max(60_000, 'At most 60 000 ms.'),
  tries: z.int('A whole number.').min(1, 'At least one try.').max(10, 'At most 10 tries.'),
  delayMs: z
    .number('A number of milliseconds.')
    .min(0, 'Not below 0 ms.')
    .max(60_000, 'At most 60 000 ms.')
    .default(5)
    .describe('Response delay: how long it takes before it answers, or a gateway before it passes on'),
  lossPercent: z
    .number('A number.')
    .min(0, 'From 0 %.')
    .max(100, 'To 100 %.')
    .default(0)
    .describe('Answers that are lost on the way, as over a wireless link'),
  writeTimeoutMs: z
    .int('A whole number of milliseconds.')
    .min(100, 'At least 100 ms.')
    .max(3_600_000, 'At most an hour.')
    .nullable()
    .default(null)
    .describe('It trips when nothing is written to it for so long; none: never'),
  identification: Identification.default(noIdentification).describe('What it says of itself when it is asked (function 43/14)'),
  coupler: Coupler.nullable().default(null).describe('The modules of which it is made, where it is a coupler'),
  program: z
    .string()
    .max(60_000, 'At most 60 000 characters.')
    .default('')
    .describe('Structured Text that its stand-in runs; without one it holds what is written to it'),
  recording: DeviceRecording.nullable()
    .default(null)
    .describe('A recording of it, among its attachments, that its stand-in plays in the place of a program'),
  image: Image.nullable().default(null).describe('For a converter: its memory, and which part of it each side sees'),
  standIn: Name.nullable().describe('Which stand-in plays it; null for none'),
  fromLibrary: z
    .strictObject({ id: Id, version: z.int().min(1) })
    .nullable()
    .default(null)
    .describe('The device of the library that it is like, and of which version'),
});
export type Device = z.infer<typeof Device>;
