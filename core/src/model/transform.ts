import * as z from 'zod';
import { Id } from './common.js';

const Bit = z.int('A bit is a whole number.').min(0, 'Bits start at 0.').max(31, 'Steps reach bits 0 to 31.');
const BitCount = z.int('A whole number.').min(1, 'At least one bit.').max(32, 'At most 32 bits.');
const number = z.number('A number.');

const staysInside = ({ at, count }: { at: number; count: number }) => at + count <= 32;
const pastTheEnd = { message: 'It would end past bit 31.', path: ['count'] };

/** One pure step of a route's chain. It takes the value of the step before, in units of the source, and gives one to the next. */
export const Transform = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('scale'),
    factor: number.refine((factor) => factor !== 0, 'A factor of 0 would make every value 0.'),
    offset: number,
  }),
  z
    .strictObject({ kind: z.literal('clamp'), low: number, high: number })
    .refine(({ low, high }) => low <= high, { message: 'The highest is below the lowest.', path: ['high'] }),
  z.strictObject({
    kind: z.literal('round'),
    decimals: z.int('A whole number.').min(-9, 'From −9.').max(9, 'To 9.'),
    direction: z.enum(['nearest', 'down', 'up']),
  }),
  z.strictObject({
    kind: z.literal('cast').describe('Taken as a whole number of this type'),
    type: z.enum(['int16', 'uint16', 'int32', 'uint32']),
    past: z.enum(['wrap', 'stop']).describe('What happens past its range: begin again at the other end, or stay at the end'),
  }),
  z
    .strictObject({ kind: z.literal('extract').describe('Some bits of a whole number'), at: Bit, count: BitCount })
    .refine(staysInside, pastTheEnd),
  z
    .strictObject({
      kind: z.literal('insert').describe('Into some bits of the destination; its others are left alone'),
      at: Bit,
      count: BitCount,
    })
    .refine(staysInside, pastTheEnd),
  z.strictObject({ kind: z.literal('invert').describe('Every bit the other way round'), count: BitCount }),
  z.strictObject({
    kind: z.literal('codes'),
    pairs: z
      .array(z.strictObject({ from: z.int('A code is a whole number.'), to: z.int('A code is a whole number.') }))
      .min(1, 'At least one pair of codes.')
      .max(256, 'At most 256 pairs.')
      .refine((pairs) => new Set(pairs.map(({ from }) => from)).size === pairs.length, 'A code is listed twice.'),
    otherwise: z.int('A code is a whole number.').nullable().describe('For codes that are not listed; none: they are not carried'),
  }),
  z.strictObject({ kind: z.literal('swap').describe('Before the value is read'), what: z.enum(['bytes', 'words', 'both']) }),
  z.strictObject({
    kind: z.literal('text'),
    length: z.int('A whole number.').min(1, 'At least one character.').max(250, 'At most 250 characters.'),
    pad: z.enum(['none', 'blank', 'zero']).describe('What fills it up to the length'),
    side: z.enum(['left', 'right']).describe('Where it is filled and cut'),
    cut: z.boolean().describe('Text that is too long is cut; else it is not carried'),
  }),
  z.strictObject({ kind: z.literal('constant'), value: number }),
  z.strictObject({
    kind: z.literal('beat').describe('A heartbeat in the value’s place, as long as the value comes'),
    pattern: z.enum(['toggle', 'counter', 'clock']).describe('A bit that turns over, a count, or the seconds of the hour'),
    everyMs: z.int('A whole number of milliseconds.').min(100, 'At least 100 ms.').max(600_000, 'At most ten minutes.'),
  }),
  z.strictObject({
    kind: z.literal('select').describe('The value while a bit is on, else another'),
    pointId: Id,
    otherwise: number,
    otherwiseId: Id.nullable().default(null).describe('A point whose value it is while the bit is off, in place of the number'),
  }),
  z
    .strictObject({
      kind: z.literal('join').describe('Another point’s value put into some of its bits'),
      pointId: Id,
      at: Bit,
      count: BitCount,
    })
    .refine(staysInside, pastTheEnd),
  z.strictObject({
    kind: z.literal('deadband').describe('Carried only when it has moved by this much'),
    by: number.positive('More than 0.'),
  }),
  z.strictObject({ kind: z.literal('rate').describe('Moves at most this much a second'), perSecond: number.positive('More than 0.') }),
  z.strictObject({
    kind: z.literal('arithmetic'),
    expression: z.string().min(1, 'An expression in x.').max(200, 'At most 200 characters.').describe('In one variable, x'),
  }),
]);
export type Transform = z.infer<typeof Transform>;
export type TransformKind = Transform['kind'];

/** The kinds of steps, in the order in which they are offered, each as it starts: doing nothing yet, as far as there is such a thing. */
export const blankSteps: { readonly [K in TransformKind]: Extract<Transform, { kind: K }> } = {
  scale: { kind: 'scale', factor: 1, offset: 0 },
  round: { kind: 'round', decimals: 0, direction: 'nearest' },
  clamp: { kind: 'clamp', low: 0, high: 100 },
  arithmetic: { kind: 'arithmetic', expression: 'x' },
  codes: { kind: 'codes', pairs: [{ from: 0, to: 0 }], otherwise: null },
  extract: { kind: 'extract', at: 0, count: 1 },
  insert: { kind: 'insert', at: 0, count: 1 },
  invert: { kind: 'invert', count: 1 },
  cast: { kind: 'cast', type: 'int16', past: 'stop' },
  swap: { kind: 'swap', what: 'words' },
  deadband: { kind: 'deadband', by: 1 },
  rate: { kind: 'rate', perSecond: 1 },
  join: { kind: 'join', pointId: '', at: 16, count: 16 },
  select: { kind: 'select', pointId: '', otherwise: 0, otherwiseId: null },
  constant: { kind: 'constant', value: 0 },
  beat: { kind: 'beat', pattern: 'counter', everyMs: 1000 },
  text: { kind: 'text', length: 16, pad: 'blank', side: 'right', cut: true },
};

export const stepNames: Readonly<Record<TransformKind, string>> = {
  scale: 'scale and offset',
  round: 'round',
  clamp: 'limit',
  arithmetic: 'formula',
  codes: 'codes to codes',
  extract: 'take bits out',
  insert: 'put into bits',
  invert: 'invert bits',
  cast: 'take as a whole type',
  swap: 'swap bytes or words',
  deadband: 'only when it has moved',
  rate: 'limit how fast it moves',
  join: 'join with another point',
  select: 'choose by a bit',
  constant: 'constant',
  beat: 'heartbeat',
  text: 'cut and pad text',
};
