import * as z from 'zod';
import { fromHex } from '../frame/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import '../re2/index.js';
import { Telegram, typedBytes } from '../telegram/index.js';
import { proposeTelegram } from '../telegram-text/index.js';
import { reckoner } from './reckoner.js';

export const findTelegram = reckoner({
  name: 'find-telegram',
  sentence: 'What a recorded or pasted stream of text is likely made of: how its telegrams end, their fields, and their checksum.',
  example: { text: '0042;+018405;S;76<CR>\n0043;+016300;M;65<CR>\n0044;+017000;S;7E<CR>' },
  input: z.strictObject({
    text: z
      .string()
      .max(200_000)
      .optional()
      .meta({ lines: 5, description: 'With <CR> or <0D> for what cannot be seen; without any, a line is a telegram that ends with CR' }),
    hex: z.string().max(800_000).optional(),
  }),
  output: z.object({
    telegram: Telegram,
    texts: z.int().describe('How many telegrams are in it'),
    fits: z.int().describe('How many of them are read without a problem'),
    says: z.array(z.string()),
  }),
  reckon({ text, hex }) {
    if ((text === undefined) === (hex === undefined)) return bad('Give either text or hex.');
    const bytes = hex === undefined ? pasted(text!) : fromHex(hex);
    return bytes.ok ? proposeTelegram(bytes.value) : bad(bytes.problem.message, hex === undefined ? 'text' : 'hex');
  },
});

/** Line breaks of a page stand beside marks that are written out, or for them. */
function pasted(text: string): Outcome<Uint8Array> {
  const hasMarks = /<(?:[A-Z]{2,3}|[0-9A-F]{2})>/i.test(text);
  const bytes = typedBytes(hasMarks ? text.replace(/\r?\n/g, '') : `${text.trimEnd()}\n`.replace(/\r?\n/g, '\r'));
  return bytes.ok ? good(bytes.value) : bytes;
}
