import * as z from 'zod';
import { type Parts, unlikeBytes, wordAt } from '../../frame/index.js';
import { busyFact } from './event-counter.js';
import { type Fact, countedFrom, defineInquiry, failedTo, told } from './inquiry.js';

const Ask = z.strictObject({ functionCode: z.literal(12) });

/** Bytes after the byte count, without the events themselves. */
const HEAD = 6;
const FIRST_EVENT = 8;

/** The last events of its communication, the newest first, with its event and message counters (V1.1b3, 6.10). */
export const eventLog = defineInquiry({
  code: 12,
  name: 'read event log',
  serialOnly: true,
  ask: Ask,
  request: () => Uint8Array.of(12),
  read(_, pdu) {
    const bytes = pdu[1] ?? 0;
    if (bytes < HEAD || pdu.length !== bytes + 2)
      return failedTo({ code: 'wrong-size', asked: Math.max(HEAD, bytes), got: pdu.length - 2 });
    return told(...factsOf(pdu));
  },
  bytes: (pdu, direction) => (direction === 'request' ? 1 : countedFrom(pdu, 1)),
  explain(pdu, direction): Parts {
    if (direction === 'request') return { parts: [], problems: [], sentence: 'is asked for its event log.' };
    const [status, commands, messages, events] = factsOf(pdu);
    const bytes = pdu[1] ?? 0;
    return {
      parts: [
        ['bytes', 1, 1, `${bytes} bytes follow`],
        ['status', 2, 2, status!.text],
        ['events', 4, 2, `${commands!.text} commands carried out`],
        ['messages', 6, 2, `${messages!.text} messages`],
        ['log', FIRST_EVENT, Math.max(0, pdu.length - FIRST_EVENT), events!.text],
      ],
      problems: bytes === pdu.length - 2 ? [] : [unlikeBytes(bytes, pdu.length - 2)],
      sentence: `answers its event log: ${events!.text}.`,
    };
  },
});

function factsOf(pdu: Uint8Array): Fact[] {
  const events = [...pdu.subarray(FIRST_EVENT)].map(eventText);
  return [
    busyFact(wordAt(pdu, 2)),
    { name: 'commands carried out', text: String(wordAt(pdu, 4)), value: wordAt(pdu, 4) },
    { name: 'messages', text: String(wordAt(pdu, 6)), value: wordAt(pdu, 6) },
    { name: 'events, newest first', text: events.join('; ') || 'none', value: null },
  ];
}

const received: Readonly<Record<number, string>> = { 1: 'damaged', 4: 'character overrun', 5: 'listens only', 6: 'broadcast' };
const sent: Readonly<Record<number, string>> = {
  0: 'exception 1, 2 or 3',
  1: 'exception 4',
  2: 'exception 5 or 6',
  3: 'exception 7',
  4: 'write timed out',
  5: 'listens only',
};

/** An event byte tells by its highest bits what it is of. */
function eventText(byte: number): string {
  if (byte === 0) return 'restarted';
  if (byte === 4) return 'began to listen only';
  const [what, marks] = byte & 0x80 ? (['received', received] as const) : (['sent', sent] as const);
  if (!(byte & 0xc0)) return `event ${byte}, which the standard does not name`;
  const names = Object.entries(marks).flatMap(([bit, name]) => ((byte >>> Number(bit)) & 1 ? [name] : []));
  return names.length > 0 ? `${what} (${names.join(', ')})` : what;
}
