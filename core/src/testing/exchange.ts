import { tcpFrame } from '../codec/index.js';
import { packWords, requestPdu } from '../frame/index.js';
import type { TraceRecord } from '../trace/index.js';

/** An exchange as it would be recorded: words were read, or written where they are given. */
export function recordedExchange(
  at: Partial<TraceRecord> & { atMs: number },
  offset: number,
  words: number[],
  write?: number[],
): TraceRecord {
  const unit = at.unit ?? 1;
  const functionCode = write ? (write.length === 1 ? 6 : 16) : 3;
  const asked = requestPdu({ functionCode, offset, count: write?.length ?? words.length, ...(write ? { values: write } : {}) });
  const answer = write ? asked.subarray(0, 5) : Uint8Array.from([3, words.length * 2, ...packWords(words)]);
  const framed = (pdu: Uint8Array) => tcpFrame(1, { unit, pdu });
  const common = {
    number: 1,
    endpointId: '10.1.1.9:502',
    askedBy: '10.1.1.2',
    requestId: null,
    framing: 'tcp' as const,
    unit,
    functionCode,
  };
  return { ...common, sent: framed(asked), got: framed(answer), end: 'answered', ms: 12, failure: null, ...at };
}
