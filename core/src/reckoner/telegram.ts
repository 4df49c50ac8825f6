import * as z from 'zod';
import { fromHex, toHex } from '../frame/index.js';
import { bad, good } from '../outcome/index.js';
import '../re2/index.js';
import { bytesOfText, Telegram } from '../telegram/index.js';
import { buildTelegram, Reader } from '../telegram-text/index.js';
import { reckoner } from './reckoner.js';

/** A field as it was found in a telegram. */
export const FoundField = z.object({
  name: z.string(),
  from: z.int().describe('The first position in the text between start and end, from 0'),
  to: z.int().describe('The last position; before the first where the field is empty'),
  raw: z.string(),
  value: z.union([z.string(), z.number()]).nullable(),
});

const weight = {
  end: ['0D'],
  fields: [
    { name: 'number', at: { from: 0, length: 4 }, kind: 'counter' as const, padWith: '0' },
    { name: 'gross', at: { from: 4, length: 7 }, kind: 'decimal' as const, decimals: 1 },
    { name: 'state', at: { from: 11, length: 1 }, kind: 'code' as const, codes: { S: 'stable', M: 'moving' } },
    {
      name: 'check',
      at: { from: 12, length: 2 },
      kind: 'checksum' as const,
      checksum: { kind: 'xor8' as const, from: 0, to: 11, written: 'hex' as const },
    },
  ],
};

export const telegram = reckoner({
  name: 'telegram',
  sentence: 'What the fields of a text message hold, with what is wrong in it; or the message that has these values.',
  example: { telegram: weight, text: '0042  18405S6D' },
  input: z.strictObject({
    telegram: Telegram.meta({ lines: 4 }),
    text: z.string().max(8192).optional().describe('What was received; start and end may be left out'),
    hex: z.string().max(32_768).optional().describe('The same as bytes, with start and end'),
    values: z.record(z.string(), z.unknown()).optional().describe('What is to be sent, by the names of the fields'),
  }),
  output: z.union([
    z.object({ ok: z.boolean(), fields: z.array(FoundField), problems: z.array(z.string()), sentence: z.string() }),
    z.object({ hex: z.string(), text: z.string() }),
  ]),
  reckon({ telegram: definition, text, hex, values }) {
    const given = [text, hex, values].filter((each) => each !== undefined).length;
    if (given !== 1) return bad('Give one of text, hex and values.');
    if (values) {
      const built = buildTelegram(definition, values);
      return built.ok ? good({ hex: toHex(built.value.bytes), text: built.value.text }) : built;
    }
    const bytes = hex === undefined ? bytesOfText(text!, definition.encoding === 'ascii' ? 'latin1' : definition.encoding) : fromHex(hex);
    if (!bytes.ok) return bad(bytes.problem.message, hex === undefined ? 'text' : 'hex');
    return good(new Reader(definition).readWhole(bytes.value, hex === undefined));
  },
});
