import * as z from 'zod';
import { MOST_BYTES, SignalOrder } from '../can-id/index.js';
import { Id } from '../common/index.js';
import { definePlace } from './definition.js';
import { Pinned } from './pinned.js';

/** Some bits of a frame on CAN. Bit n is bit n mod 8, 0 the lowest, of byte n div 8. */
export const signal = definePlace({
  kind: 'signal',
  label: 'Bits of a frame',
  schema: z.strictObject({
    kind: z.literal('signal'),
    frameId: Id,
    firstBit: z
      .int('A whole number.')
      .min(0, 'Bits count from 0.')
      .max(8 * MOST_BYTES - 1, 'A frame has bits 0 to 63.')
      .describe('The lowest bit of the value where the order is little, its highest where it is big'),
    bits: z.int('A whole number.').min(1, 'At least one bit.').max(64, 'At most 64 bits.'),
    order: SignalOrder,
    pinned: Pinned,
  }),
  partOf: 'frame',
  messageOf: ({ frameId }) => frameId,
  directionOf: () => null,
  isTold: false,
  inMessage: (place, frameId) => ({ ...place, frameId }),
  words: ({ firstBit, bits, order }, message) =>
    `${bits === 1 ? 'bit' : `${bits} bits, ${order}-endian, from bit`} ${firstBit} of ${message}`,
});
