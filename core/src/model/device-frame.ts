import * as z from 'zod';
import { identifierProblem, IdentifierBits, lastIdentifier, MOST_BYTES } from '../can-id/index.js';
import { Id, Name, Note } from '../common/index.js';
import { MOST_RECORDS } from '../place/index.js';
import { Ms } from './device-telegram.js';

const LAST_BIT = 8 * MOST_BYTES - 1;

/** When a frame goes out. */
export const FrameWhen = z.discriminatedUnion('on', [
  z.strictObject({ on: z.literal('period'), periodMs: Ms(1) }),
  z.strictObject({
    on: z.literal('change'),
    atLeastMs: Ms(1).nullable().default(null).describe('And as often at least; none: only then'),
  }),
  z
    .strictObject({
      on: z.literal('toggle'),
      firstBit: z.int('A whole number.').min(0, 'Bits count from 0.').max(LAST_BIT, 'A frame has bits 0 to 63.'),
      bits: z.union([z.literal(1), z.literal(8)], 'A bit, or a byte of 8.'),
    })
    .describe('Each time this bit or byte of it changes'),
  z.strictObject({ on: z.literal('start') }).describe('Once, when the one who sends it is switched on'),
]);
export type FrameWhen = z.infer<typeof FrameWhen>;

/** How a converter passes frames whole: in records, which the controller reads and makes itself. */
export const Whole = z.strictObject({
  mask: z
    .int('A whole number, or hex with 0x.')
    .min(0, 'Not below 0.')
    .describe('Which bits of the identifier have to be those that are said; with all of them it is one frame'),
  records: z
    .int('A whole number.')
    .min(1, 'At least one.')
    .max(MOST_RECORDS, `At most ${MOST_RECORDS}.`)
    .describe('How many frames have room: each goes into the next, and after the last into the first again'),
});
export type Whole = z.infer<typeof Whole>;

/** A frame of a device on CAN: one that it sends, or one that it takes. Its signals are the points that lie in it. */
export const DeviceFrame = z
  .strictObject({
    id: Id,
    projectId: Id,
    deviceId: Id,
    name: Name,
    note: Note,
    direction: z.enum(['sent', 'taken']).describe('By its device'),
    identifierBits: IdentifierBits,
    identifier: z.int('A whole number.').min(0, 'Identifiers count from 0.'),
    bytes: z.int('A whole number.').min(0, 'From 0 bytes.').max(MOST_BYTES, 'At most 8 bytes.'),
    fill: z
      .string()
      .regex(/^([0-9A-F]{2}){0,8}$/, 'Bytes in hex, as FF00.')
      .default('')
      .describe('What its bytes hold where no signal lies, in hex from byte 0 on; 00 where nothing is said'),
    when: FrameWhen,
    lostAfterMs: Ms(10)
      .default(1000)
      .describe('Its values are not good any more, and its node is taken for dead, when none came for so long'),
    whole: Whole.nullable()
      .default(null)
      .describe('Where the converter before it passes all frames with such identifiers whole; none: it takes them apart'),
  })
  .superRefine(checkFrame);
export type DeviceFrame = z.infer<typeof DeviceFrame>;

export function checkFrame(
  frame: Pick<DeviceFrame, 'identifierBits' | 'identifier' | 'bytes' | 'fill' | 'when' | 'whole'>,
  context: z.RefinementCtx,
): void {
  const problem = (message: string, ...path: string[]) => context.addIssue({ code: 'custom', path, message });
  const { bytes, fill, when, whole, identifierBits } = frame;
  const wrong = identifierProblem(frame);
  if (wrong) problem(wrong, 'identifier');
  if (fill.length > 2 * bytes) problem(`The frame has ${bytes} ${bytes === 1 ? 'byte' : 'bytes'}.`, 'fill');
  if (whole && whole.mask > lastIdentifier(identifierBits)) problem(`The mask has more than ${identifierBits} bits.`, 'whole', 'mask');
  if (when.on !== 'toggle') return;
  if (when.firstBit + when.bits > 8 * bytes)
    problem(bytes === 0 ? 'The frame has no bits.' : `The frame ends with bit ${8 * bytes - 1}.`, 'when', 'firstBit');
  else if (when.bits === 8 && when.firstBit % 8 !== 0) problem('A byte begins at bit 0, 8, 16 and so on.', 'when', 'firstBit');
}
