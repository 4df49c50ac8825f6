import * as z from 'zod';
import { type Parts, toHex, unlikeBytes } from '../../frame/index.js';
import { type Fact, countedFrom, defineInquiry, failedTo, printable, textBytes, told } from './inquiry.js';

export const REPORT_SERVER_ID = 17;
const MAX_TEXT = 200;

const Ask = z.strictObject({ functionCode: z.literal(REPORT_SERVER_ID) });

/** What runs there, and whether it runs; the standard has it on serial lines only, many devices take it anyway (V1.1b3, 6.13). */
export const serverId = defineInquiry({
  code: REPORT_SERVER_ID,
  name: 'report server ID',
  serialOnly: true,
  ask: Ask,
  request: () => Uint8Array.of(REPORT_SERVER_ID),
  read(_, pdu) {
    if (pdu.length < 3 || pdu[1] !== pdu.length - 2) return failedTo({ code: 'wrong-size', asked: pdu[1] ?? 1, got: pdu.length - 2 });
    return told(...factsOf(pdu));
  },
  bytes: (pdu, direction) => (direction === 'request' ? 1 : countedFrom(pdu, 1)),
  explain(pdu, direction): Parts {
    if (direction === 'request') return { parts: [], problems: [], sentence: 'is asked for its server ID.' };
    const [id, run, more] = factsOf(pdu);
    const bytes = pdu[1] ?? 0;
    const at = runAt(pdu);
    return {
      parts: [
        ['bytes', 1, 1, `${bytes} bytes follow`],
        ['server ID', 2, Math.max(0, at - 2), id!.text],
        ['run indicator', at, 1, run!.text],
        ['more', at + 1, pdu.length - at - 1, more?.text ?? ''],
      ],
      problems: bytes === pdu.length - 2 ? [] : [unlikeBytes(bytes, pdu.length - 2)],
      sentence: `answers its server ID: ${id!.text}, ${run!.text}.`,
    };
  },
});

const RUNS = 0xff;
const STANDS = 0;

/**
 * Where it says whether it runs. How long the ID before it is, is each device's own: it is the last byte where that can be one, else the
 * first that can be after at least one byte of ID, and more follows.
 */
function runAt(pdu: Uint8Array): number {
  const isRun = (byte: number) => byte === RUNS || byte === STANDS;
  const last = pdu.length - 1;
  if (isRun(pdu[last] ?? RUNS)) return last;
  const first = pdu.findIndex((byte, at) => at > 2 && isRun(byte));
  return first < 0 ? last : first;
}

function factsOf(pdu: Uint8Array): Fact[] {
  const at = runAt(pdu);
  const run = pdu[at]!;
  const id = pdu.subarray(2, at);
  const more = pdu.subarray(at + 1);
  return [
    { name: 'server ID', text: printable(id) || toHex(id), value: null },
    { name: 'run indicator', text: run === RUNS ? 'runs' : run === STANDS ? 'does not run' : `${run}, of its own meaning`, value: run },
    ...(more.length ? [{ name: 'more', text: printable(more) || toHex(more), value: null }] : []),
  ];
}

/** The answer to function 17: an id text and whether it runs. */
export function serverIdAnswer(text: string, runs: boolean): Uint8Array {
  const bytes = textBytes(text, MAX_TEXT);
  return Uint8Array.of(REPORT_SERVER_ID, bytes.length + 1, ...bytes, runs ? 0xff : 0);
}
