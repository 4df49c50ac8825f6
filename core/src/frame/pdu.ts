import { areSameBytes } from '../common/index.js';
import type { Failure } from '../failure/index.js';
import { functionOf, MAX_EXCHANGED } from './functions.js';

/**
 * A request for registers or bits, before it becomes bytes. `values` are words, or 0 and 1 for bits, for the writing functions;
 * for a mask write they are the two masks: the bits that stay as they are, then those that are set. `also` is what an exchange
 * reads after it has written.
 */
export interface PduRequest {
  functionCode: number;
  offset: number;
  count: number;
  values?: readonly number[];
  also?: { offset: number; count: number };
}

/** What came back: the words or bits read, the acknowledgement of a write, an exception, or bytes that do not answer this request. */
export type PduAnswer = { kind: 'values'; values: number[] } | { kind: 'written' } | { kind: 'failed'; failure: Failure };

/** The bytes of a request (V1.1b3, 6.1 to 6.12, 6.16 and 6.17). Throws where the function is not one of `functions` or the count is past its limit: a plan never holds such a request. */
export function requestPdu({ functionCode, offset, count, values = [], also }: PduRequest): Uint8Array {
  const known = functionOf(functionCode);
  const most = known?.kind === 'exchange' ? MAX_EXCHANGED : known?.most;
  if (!known || !most || count < 1 || count > most) throw new RangeError(`Function ${functionCode} cannot carry ${count}.`);
  if (known.kind === 'read') return fivePdu(functionCode, offset, count);
  if (known.kind === 'write-one') {
    const value = known.bits ? (values[0] ? 0xff00 : 0) : (values[0] ?? 0);
    return fivePdu(functionCode, offset, value);
  }
  const data = known.bits ? packBits(values) : packWords(values);
  if (known.kind === 'mask') return Uint8Array.of(functionCode, offset >>> 8, offset & 0xff, ...data);
  const places = also ? [also.offset >>> 8, also.offset & 0xff, also.count >>> 8, also.count & 0xff] : [];
  const head = [functionCode, ...places, offset >>> 8, offset & 0xff, count >>> 8, count & 0xff, data.length];
  const pdu = new Uint8Array(head.length + data.length);
  pdu.set(head);
  pdu.set(data, head.length);
  return pdu;
}

/** Function, offset, and a count or a value. Filled in place: `Uint8Array.of` takes several times as long. */
function fivePdu(functionCode: number, offset: number, fourth: number): Uint8Array {
  const pdu = new Uint8Array(5);
  pdu[0] = functionCode;
  pdu[1] = offset >>> 8;
  pdu[2] = offset & 0xff;
  pdu[3] = fourth >>> 8;
  pdu[4] = fourth & 0xff;
  return pdu;
}

/** Reads an answer in the light of its request; nothing in it is trusted before it is checked. */
export function readAnswer(request: PduRequest, pdu: Uint8Array): PduAnswer {
  const unlike = notAnswerTo(request.functionCode, pdu);
  if (unlike) return failed(unlike);
  const known = functionOf(request.functionCode)!;
  const asked = known.kind === 'exchange' ? request.also?.count : known.kind === 'read' ? request.count : undefined;
  if (asked !== undefined) {
    const bytes = known.bits ? Math.ceil(asked / 8) : asked * 2;
    if (pdu[1] !== bytes || pdu.length !== bytes + 2) {
      return failed({ code: 'wrong-size', asked: bytes, got: pdu.length - 2 });
    }
    return { kind: 'values', values: known.bits ? unpackBits(pdu, 2, asked) : unpackWords(pdu, 2, asked) };
  }
  const expected = known.kind === 'mask' ? requestPdu(request) : requestPdu(request).subarray(0, 5);
  return areSameBytes(pdu, expected) ? { kind: 'written' } : failed({ code: 'not-confirmed' });
}

/** Why these bytes are no answer to a question with this function code, whatever was asked: another function, or an exception; null where they may be one. */
export function notAnswerTo(functionCode: number, pdu: Uint8Array): Failure | null {
  const code = pdu[0];
  if (code === (functionCode | 0x80))
    return pdu.length === 2 ? { code: 'exception', exception: pdu[1]! } : { code: 'exception-without-code' };
  return code === functionCode ? null : { code: 'wrong-function', asked: functionCode, got: code ?? null };
}

function failed(failure: Failure): PduAnswer {
  return { kind: 'failed', failure };
}

export function packWords(words: readonly number[]): Uint8Array {
  const bytes = new Uint8Array(words.length * 2);
  for (let index = 0; index < words.length; index++) {
    bytes[index * 2] = words[index]! >>> 8;
    bytes[index * 2 + 1] = words[index]! & 0xff;
  }
  return bytes;
}

export function unpackWords(bytes: Uint8Array, from: number, count: number): number[] {
  const words = new Array<number>(count);
  for (let index = 0; index < count; index++) words[index] = (bytes[from + index * 2]! << 8) | bytes[from + index * 2 + 1]!;
  return words;
}

/** Bits pack from the least significant bit of the first byte (V1.1b3, 6.1). */
export function packBits(bits: readonly number[]): Uint8Array {
  const bytes = new Uint8Array(Math.ceil(bits.length / 8));
  bits.forEach((bit, index) => {
    if (bit) bytes[index >>> 3]! |= 1 << (index & 7);
  });
  return bytes;
}

export function unpackBits(bytes: Uint8Array, from: number, count: number): number[] {
  return Array.from({ length: count }, (_, index) => (bytes[from + (index >>> 3)]! >>> (index & 7)) & 1);
}
