import * as z from 'zod';
import { type Parts, wordAt } from '../../frame/index.js';
import { type Fact, defineInquiry, told, unlikeLength } from './inquiry.js';

const Ask = z.strictObject({ functionCode: z.literal(11) });

export function busyFact(word: number): Fact {
  const text = word === 0 ? 'ready' : word === 0xffff ? 'busy with an earlier command' : `${word}, which the standard does not name`;
  return { name: 'status', text, value: word };
}

/** How many commands it has carried out without an exception, so that one can tell whether the last was (V1.1b3, 6.9). */
export const eventCounter = defineInquiry({
  code: 11,
  name: 'read event counter',
  serialOnly: true,
  ask: Ask,
  request: () => Uint8Array.of(11),
  read: (_, pdu) => unlikeLength(pdu, 5) ?? told(busyFact(wordAt(pdu, 1)), countFact(pdu)),
  bytes: (_, direction) => (direction === 'request' ? 1 : 5),
  explain(pdu, direction): Parts {
    if (direction === 'request') return { parts: [], problems: [], sentence: 'is asked for its event counter.' };
    const [status, count] = [busyFact(wordAt(pdu, 1)), countFact(pdu)];
    return {
      parts: [
        ['status', 1, 2, status.text],
        ['events', 3, 2, count.text],
      ],
      problems: [],
      sentence: `answers ${count.text}; it is ${status.text}.`,
    };
  },
});

function countFact(pdu: Uint8Array): Fact {
  const value = wordAt(pdu, 3);
  return { name: 'commands carried out', text: `${value} commands carried out`, value };
}
