import * as z from 'zod';
import { checksum as sumOf, ChecksumKind, fromHex, toHex } from '../frame/index.js';
import { reckoner } from './reckoner.js';
import { bad, good } from '../outcome/index.js';

export const checksum = reckoner({
  name: 'checksum',
  sentence: 'The checksum of bytes or of text, and its bytes in the order in which they are sent.',
  example: { hex: '01 03 00 00 00 0A', kind: 'crc16-modbus' },
  input: z.strictObject({
    hex: z.string().optional(),
    text: z.string().optional().describe('One byte a character, up to character 255'),
    kind: ChecksumKind,
  }),
  output: z.object({ value: z.int(), hex: z.string(), bytes: z.array(z.int()) }),
  reckon({ hex, text, kind }) {
    if ((hex === undefined) === (text === undefined)) return bad('Give either hex or text.');
    const bytes = hex === undefined ? textBytes(text!) : fromHex(hex);
    if (!bytes.ok) return bytes;
    const sum = sumOf(kind, bytes.value);
    return good({ value: sum.value, hex: toHex(sum.bytes), bytes: sum.bytes });
  },
});

function textBytes(text: string) {
  const codes = [...text].map((character) => character.codePointAt(0)!);
  const wide = codes.findIndex((code) => code > 255);
  if (wide >= 0) return bad(`“${[...text][wide]}” is not a single byte; give its bytes as hex.`, 'text');
  return good(Uint8Array.from(codes));
}
