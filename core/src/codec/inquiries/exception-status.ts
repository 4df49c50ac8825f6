import * as z from 'zod';
import { bitsText } from '../../frame/index.js';
import { defineInquiry, told, unlikeLength } from './inquiry.js';

const Ask = z.strictObject({ functionCode: z.literal(7) });

/** Eight outputs of the device's own choice, read in the shortest frame there is (V1.1b3, 6.7). */
export const exceptionStatus = defineInquiry({
  code: 7,
  name: 'read exception status',
  serialOnly: true,
  ask: Ask,
  request: () => Uint8Array.of(7),
  read: (_, pdu) => unlikeLength(pdu, 2) ?? told({ name: 'exception status', text: bitsText(pdu[1]!, 8), value: pdu[1]! }),
  bytes: (_, direction) => (direction === 'request' ? 1 : 2),
  explain: (pdu, direction) =>
    direction === 'request'
      ? { parts: [], problems: [], sentence: 'is asked for its exception status.' }
      : {
          parts: [['status', 1, 1, bitsText(pdu[1] ?? 0, 8)]],
          problems: [],
          sentence: `answers its exception status: ${bitsText(pdu[1] ?? 0, 8)}.`,
        },
});
