import * as z from 'zod';
import { bitsText, hexText, wordAt } from '../../frame/index.js';
import { defineInquiry, failedTo, told, twoBytes, unlikeLength } from './inquiry.js';

/** The sub-functions of the standard: what each is about, and what it changes where it does. */
const subs: Readonly<Record<number, { name: string; changes?: string }>> = {
  0: { name: 'return what is sent' },
  1: { name: 'restart communications', changes: 'restarts its communications and clears its counters' },
  2: { name: 'diagnostic register' },
  3: { name: 'change the end mark of ASCII frames', changes: 'makes it take another end mark, so that nobody else is understood' },
  4: { name: 'listen only', changes: 'makes it fall silent until its communications are restarted' },
  10: { name: 'clear counters', changes: 'clears its counters and its diagnostic register' },
  11: { name: 'messages on the line' },
  12: { name: 'damaged messages' },
  13: { name: 'exceptions that it answered' },
  14: { name: 'messages to it' },
  15: { name: 'messages that it did not answer' },
  16: { name: 'messages that it could not take' },
  17: { name: 'messages that it was too busy for' },
  18: { name: 'overrun characters' },
  20: { name: 'clear the count of overruns', changes: 'clears its count of overrun characters' },
};

const LISTEN_ONLY = 4;
const DIAGNOSTIC_REGISTER = 2;
/** The first and last of the counters. */
const COUNTERS = [11, 18] as const;

export const DIAGNOSTICS = 8;

const Ask = z.strictObject({
  functionCode: z.literal(DIAGNOSTICS),
  sub: z
    .int('A whole number.')
    .refine((sub) => sub in subs, `The standard has the sub-functions ${Object.keys(subs).join(', ')}.`)
    .describe('Sub-function'),
  data: z.int('A whole number.').min(0, 'From 0.').max(0xffff, 'To 65535.').default(0).describe('Data'),
});

/** Tests the way to a device and reads what it has counted; the standard has it on serial lines only (V1.1b3, 6.8). */
export const diagnostics = defineInquiry({
  code: DIAGNOSTICS,
  name: 'diagnostics',
  serialOnly: true,
  ask: Ask,
  changes: ({ sub }) => subs[sub]!.changes ?? null,
  isAnswered: ({ sub }) => sub !== LISTEN_ONLY,
  request: ({ sub, data }) => Uint8Array.of(DIAGNOSTICS, ...twoBytes(sub), ...twoBytes(data)),
  read({ sub, data }, pdu) {
    const unlike = unlikeLength(pdu, 5);
    if (unlike) return unlike;
    const [gotSub, got] = [wordAt(pdu, 1), wordAt(pdu, 3)];
    if (gotSub !== sub || (!isCounted(sub) && got !== data)) return failedTo({ code: 'not-confirmed' });
    return told({ name: nameOf(sub), text: meaningOf(sub, got), value: got });
  },
  answersLike: (request) => ({ start: isCounted(wordAt(request, 1)) ? request.subarray(0, 3) : request, length: request.length }),
  bytes: () => 5,
  explain(pdu, direction) {
    const [sub, data] = [wordAt(pdu, 1), wordAt(pdu, 3)];
    const meaning = direction === 'response' ? meaningOf(sub, data) : hexText(data);
    const known = `sub-function ${sub}: ${nameOf(sub)}`;
    return {
      parts: [
        ['sub-function', 1, 2, known],
        ['data', 3, Math.max(2, pdu.length - 3), meaning],
      ],
      problems: [],
      sentence: direction === 'response' ? `answers ${known}, ${meaning}.` : `is told or asked, ${known}.`,
    };
  },
});

function nameOf(sub: number): string {
  return subs[sub]?.name ?? 'which the standard does not name';
}

/** Whether the answer carries a number of the device in the place of the data that was sent. */
function isCounted(sub: number): boolean {
  return sub === DIAGNOSTIC_REGISTER || (sub >= COUNTERS[0] && sub <= COUNTERS[1]);
}

function meaningOf(sub: number, data: number): string {
  if (sub === DIAGNOSTIC_REGISTER) return bitsText(data, 16);
  return isCounted(sub) ? String(data) : hexText(data);
}

/** What each sub-function is called, in the order of their numbers. */
export const diagnosticNames: readonly { sub: number; name: string }[] = Object.entries(subs).map(([sub, { name }]) => ({
  sub: Number(sub),
  name,
}));

/** A question that any device on a serial line answers in a way of its own: with these two bytes, or that it does not know it. */
export function echoRequest(data: number): Uint8Array {
  return diagnostics.request({ functionCode: DIAGNOSTICS, sub: 0, data: data & 0xffff });
}
