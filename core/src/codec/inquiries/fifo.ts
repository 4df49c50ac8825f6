import * as z from 'zod';
import { type Parts, unpackWords, wordAt } from '../../frame/index.js';
import { defineInquiry, failedTo, told, twoBytes } from './inquiry.js';

/** A queue answers at most so many registers. */
export const MAX_QUEUED = 31;

const Ask = z.strictObject({
  functionCode: z.literal(24),
  offset: z.int('A whole number.').min(0, 'From 0.').max(0xffff, 'To 65535.').describe('Offset of the register that counts the queue'),
});

/** What waits in a queue of registers; the first register of it says how many do. It is read, not emptied (V1.1b3, 6.18). */
export const fifoQueue = defineInquiry({
  code: 24,
  name: 'read FIFO queue',
  ask: Ask,
  request: ({ offset }) => Uint8Array.of(24, ...twoBytes(offset)),
  read(_, pdu) {
    const count = wordAt(pdu, 3);
    if (pdu.length < 5 || wordAt(pdu, 1) !== 2 + 2 * count || pdu.length !== 5 + 2 * count)
      return failedTo({ code: 'wrong-size', asked: 4 + 2 * count, got: pdu.length - 1 });
    const values = unpackWords(pdu, 5, count);
    return told(
      { name: 'in the queue', text: String(count), value: count },
      ...values.map((value, index) => ({ name: `value ${index + 1}`, text: String(value), value })),
    );
  },
  bytes: (pdu, direction) => (direction === 'request' ? 3 : pdu.length < 3 ? Infinity : 3 + wordAt(pdu, 1)),
  explain(pdu, direction): Parts {
    if (direction === 'request')
      return {
        parts: [['offset', 1, 2, `offset ${wordAt(pdu, 1)}`]],
        problems: [],
        sentence: `is asked for the queue at offset ${wordAt(pdu, 1)}.`,
      };
    const [bytes, count] = [wordAt(pdu, 1), wordAt(pdu, 3)];
    const there = Math.max(0, Math.min(count, (pdu.length - 5) >> 1));
    const values = unpackWords(pdu, 5, there).join(', ');
    const problems =
      bytes === 2 + 2 * count ? [] : [`The queue of ${count} is ${2 + 2 * count} bytes long with its count; ${bytes} stated.`];
    if (count > MAX_QUEUED) problems.push(`A queue answers at most ${MAX_QUEUED} registers; ${count} stated.`);
    return {
      parts: [
        ['bytes', 1, 2, `${bytes} bytes follow`],
        ['count', 3, 2, `${count} in the queue`],
        ['values', 5, Math.max(0, pdu.length - 5), values],
      ],
      problems,
      sentence: `answers ${count} in the queue${values && `: ${values}`}.`,
    };
  },
});
