import * as z from 'zod';
import { toHex } from '../frame/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

const Word = z.int('A whole number.').min(0, 'A word is 0 to 65535.').max(65_535, 'A word is 0 to 65535.');

export const bits = reckoner({
  name: 'bits',
  sentence: 'One word as a number, in hex and binary, and as the list of its set bits, counted from 0 and from 1.',
  example: { mask: '0x0007' },
  input: z.strictObject({
    word: Word.optional(),
    bits: z.array(z.int().min(0, 'Bits are counted from 0.').max(15, 'A word ends at bit 15.')).optional(),
    mask: z.union([Word, z.string()]).optional().describe('A number, or text such as 0x0014, $0014 or 0014h'),
  }),
  output: z.object({
    word: z.int(),
    hex: z.string(),
    binary: z.string(),
    bits: z.array(z.int()),
    fromOne: z.array(z.int()),
  }),
  reckon({ word, bits: set, mask }) {
    const given = [word, set, mask].filter((item) => item !== undefined).length;
    if (given !== 1) return bad('Give one of word, bits and mask.');
    const value = word ?? (set ? set.reduce((sum, bit) => sum | (1 << bit), 0) : maskValue(mask!));
    if (value === null || !(value >= 0 && value <= 65_535)) return bad(`“${mask}” is no mask of 16 bits.`, 'mask');
    const found = Array.from({ length: 16 }, (_, bit) => bit).filter((bit) => (value >> bit) & 1);
    return good({
      word: value,
      hex: toHex([value >> 8, value & 0xff]),
      binary: value.toString(2).padStart(16, '0'),
      bits: found,
      fromOne: found.map((bit) => bit + 1),
    });
  },
});

function maskValue(mask: number | string): number | null {
  if (typeof mask === 'number') return mask;
  const text = mask.replace(/[\s_]/g, '');
  if (/^2#[01]{1,16}$/.test(text) || /^0b[01]{1,16}$/i.test(text)) return parseInt(text.slice(2), 2);
  const digits = /^(?:16#|0x|\$)?([0-9a-f]{1,4})$/i.exec(text) ?? /^([0-9a-f]{1,5})h$/i.exec(text);
  return digits ? parseInt(digits[1]!, 16) : null;
}
