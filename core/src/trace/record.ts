import type { Failure } from '../failure/index.js';
import { codecOf } from '../codec/index.js';
import type { Framing } from '../frame/index.js';
import type { ForeignFraming } from './foreign/list.js';

/**
 * How an exchange ended. `sent`: nobody answers it; `late` is an answer that came when nobody waited for it any more; `arrived` is what needs
 * no answer, as it was sent.
 */
export const ends = ['answered', 'sent', 'refused', 'silent', 'damaged', 'not connected', 'late', 'arrived'] as const;
export type End = (typeof ends)[number];

/** One question on the wire with what came back: whole frames as they were sent and received. */
export interface TraceRecord {
  /** Counts up from 1 for as long as the bench runs; the older ones are forgotten first. */
  number: number;
  /** When the question was sent, ms since 1970; null in a recording without times. */
  atMs: number | null;
  /** Who was dialled, as in the plan; an address and port in a recording. */
  endpointId: string;
  /** Who asked, where a recording tells it: an address. */
  askedBy?: string;
  /** The request of the plan that it belongs to; null for what was asked by hand, and in recordings. */
  requestId: string | null;
  framing: Framing;
  unit: number;
  functionCode: number;
  /** Null for an answer to nothing. */
  sent: Uint8Array | null;
  got: Uint8Array | null;
  end: End;
  /** From the question to the end; null in a recording without times. */
  ms: number | null;
  /** What went wrong, where something did. */
  failure: Failure | null;
}

/**
 * What went over a line: an exchange of Modbus, or something on a line of another kind. That has no unit and no function (both are 0); its
 * endpoint is the line, its request the port that sent it (the line itself where a person did), `sent` what left it and `got` what arrived.
 */
export interface TraceEntry extends Omit<TraceRecord, 'framing'> {
  framing: Framing | ForeignFraming;
}

/** Whether it ended as it should, as far as its bytes are looked at. */
export function endsWell({ end }: Pick<TraceEntry, 'end'>): boolean {
  return end === 'answered' || end === 'sent' || end === 'arrived';
}

/** The PDU inside a frame that was sent or received whole. Damaged frames give what is at its place. */
export function pduOf(frame: Uint8Array, framing: Framing): Uint8Array {
  return codecOf(framing).inside(frame).pdu;
}

/** Who is spoken to or answers in a frame, and by which function; for an exception, the one that was asked for. */
export function headOf(frame: Uint8Array, framing: Framing): { unit: number; functionCode: number; isException: boolean } {
  const { unit, pdu } = codecOf(framing).inside(frame);
  const code = pdu[0] ?? 0;
  return { unit, functionCode: code & 0x7f, isException: (code & 0x80) !== 0 };
}
