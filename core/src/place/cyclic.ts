import * as z from 'zod';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** Which block of a cyclic link, as its station calls them: what it sends, and what it takes. */
export const blocks = [
  { name: 'input', label: 'Input, from the station' },
  { name: 'output', label: 'Output, to the station' },
] as const;

/** Some bits of a block that two ends of a cyclic link exchange. Bit 0 is the lowest of a byte. */
export const cyclic = definePlace({
  kind: 'cyclic',
  label: 'Bytes of a cyclic block',
  schema: z.strictObject({
    kind: z.literal('cyclic'),
    block: z.enum(['input', 'output']),
    byte: z.int('A whole number.').min(0, 'Bytes count from 0.').max(499, 'Bytes count to 499.').describe('The first of its bytes'),
    bit: z
      .int('A whole number.')
      .min(0, 'Bits count from 0.')
      .max(7, 'A byte has bits 0 to 7.')
      .describe('The lowest of its bits in that byte'),
    bits: z.int('A whole number.').min(1, 'At least one bit.').max(64, 'At most 64 bits.'),
    order: z.enum(['little', 'big']).describe('Which byte of a value of several comes first: its lowest, or its highest'),
    pinned: Pinned,
  }),
  partOf: null,
  messageOf: () => null,
  directionOf: ({ block }) => (block === 'input' ? 'sent' : 'taken'),
  isTold: false,
  inMessage: (place) => place,
  words: ({ block, byte, bit, bits, order }) => {
    if (bits === 1) return `bit ${bit} of ${block} byte ${byte}`;
    if (bit > 0 || bits % 8 !== 0) return `${bits} bits from bit ${bit} of ${block} byte ${byte} on`;
    return bits === 8 ? `${block} byte ${byte}` : `${block} bytes ${byte} to ${byte + bits / 8 - 1}, ${order}-endian`;
  },
});
