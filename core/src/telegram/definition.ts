import * as z from 'zod';
import { ChecksumKind } from '../frame/index.js';
import { Encoding } from '../types/index.js';
import { endingKeys, endingShapes, hexBytes } from './endings.js';
import { FieldAt } from './places.js';

/** The longest telegram, in bytes. */
export const LONGEST = 4096;

export const FieldKindName = z.enum(['text', 'integer', 'decimal', 'hex', 'code', 'counter', 'checksum']);

const Position = z.int('A position is a whole number.').min(-LONGEST).max(LONGEST);

/** One field of a telegram: where its characters are, and what they mean. Positions count from 0 in the text between start and end. */
export const TelegramField = z
  .strictObject({
    name: z.string().min(1, 'A field has a name.').max(80, 'At most 80 characters.'),
    at: FieldAt,
    kind: FieldKindName,
    decimals: z.int('A whole number.').min(0).max(12, 'At most 12.').optional().describe('Figures behind a point that is not sent'),
    codes: z.record(z.string().max(80), z.string().max(80)).optional().describe('What each text stands for'),
    checksum: z
      .strictObject({
        kind: ChecksumKind,
        from: Position.describe('The first position that it covers; negative from the end'),
        to: Position.describe('The last position that it covers; negative from the end'),
        written: z.enum(['hex', 'decimal', 'raw']),
      })
      .optional(),
    pad: z.enum(['left', 'right']).optional().describe('Where it is filled up'),
    padWith: z.string().length(1, 'One character.').optional(),
  })
  .superRefine(({ kind, checksum }, context) => {
    if (kind === 'checksum' && !checksum)
      context.addIssue({ code: 'custom', message: 'A checksum says its kind and what it covers.', path: ['checksum'] });
  });
export type TelegramField = z.infer<typeof TelegramField>;

/** A text message: how it begins and ends, and its fields. */
export const Telegram = z
  .strictObject({
    ...endingShapes,
    start: hexBytes(64, 'At most 64 characters.').optional().describe('The bytes with which it begins'),
    encoding: Encoding.default('ascii'),
    fields: z.array(TelegramField).min(1, 'At least one field.').max(200, 'At most 200 fields.'),
  })
  .superRefine((telegram, context) => {
    const given = endingKeys.filter((key) => telegram[key] !== undefined);
    if (given.length !== 1)
      context.addIssue({
        code: 'custom',
        message: `A telegram ends in one way: by ${endingKeys.join(', ')}${given.length ? `; here it has ${given.join(' and ')}` : ''}.`,
      });
    const raw = telegram.fields.findIndex(({ checksum }) => checksum?.written === 'raw');
    if (telegram.encoding === 'utf-8' && raw >= 0)
      context.addIssue({
        code: 'custom',
        message: 'A checksum as bytes is no UTF-8; choose another encoding.',
        path: ['fields', raw, 'checksum'],
      });
    const seen = new Set<string>();
    telegram.fields.forEach(({ name }, index) => {
      if (seen.has(name)) context.addIssue({ code: 'custom', message: `There are two fields “${name}”.`, path: ['fields', index, 'name'] });
      seen.add(name);
    });
  });
export type Telegram = z.infer<typeof Telegram>;
