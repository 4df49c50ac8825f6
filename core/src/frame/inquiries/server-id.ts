import * as z from 'zod';
import type { Parts } from '../parts.js';
import { unlikeBytes } from '../pdu-words.js';
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
    const [id, run] = factsOf(pdu);
    const bytes = pdu[1] ?? 0;
    return {
      parts: [
        ['bytes', 1, 1, `${bytes} bytes follow`],
        ['server ID', 2, Math.max(0, pdu.length - 3), id!.text],
        ['run indicator', pdu.length - 1, 1, run!.text],
      ],
      problems: bytes === pdu.length - 2 ? [] : [unlikeBytes(bytes, pdu.length - 2)],
      sentence: `answers its server ID: ${id!.text}, ${run!.text}.`,
    };
  },
});

/** How the ID is made up is each device's own; what is commonest is taken: a text, and last whether it runs. */
function factsOf(pdu: Uint8Array): Fact[] {
  const run = pdu.at(-1)!;
  return [
    { name: 'server ID', text: printable(pdu.subarray(2, -1)), value: null },
    { name: 'run indicator', text: run === 0xff ? 'runs' : run === 0 ? 'does not run' : `${run}, of its own meaning`, value: run },
  ];
}

/** The answer to function 17: an id text and whether it runs. */
export function serverIdAnswer(text: string, runs: boolean): Uint8Array {
  const bytes = textBytes(text, MAX_TEXT);
  return Uint8Array.of(REPORT_SERVER_ID, bytes.length + 1, ...bytes, runs ? 0xff : 0);
}
