import type { Framing } from '../frame/index.js';

/** How an exchange ended. `late` is an answer that came when nobody waited for it any more. */
export const ends = ['answered', 'refused', 'silent', 'damaged', 'not connected', 'late'] as const;
export type End = (typeof ends)[number];

/** One question on the wire with what came back: whole frames as they were sent and received. */
export interface TraceRecord {
  /** Counts up from 1 for as long as the bench runs; the older ones are forgotten first. */
  number: number;
  /** When the question was sent, ms since 1970; null in a recording without times. */
  atMs: number | null;
  /** Who was dialled, as in the plan; an address and port in a recording. */
  endpointId: string;
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
  /** Why it ended so, where the bytes do not say it. */
  why: string | null;
}

/** The PDU inside a frame that was sent or received whole. Damaged frames give what is at its place. */
export function pduOf(frame: Uint8Array, framing: Framing): Uint8Array {
  if (framing === 'tcp') return frame.subarray(7);
  if (framing === 'rtu') return frame.subarray(1, Math.max(1, frame.length - 2));
  const digits = String.fromCharCode(...frame).replace(/[^0-9A-Fa-f]/g, '');
  const bytes = Uint8Array.from(digits.match(/../g) ?? [], (pair) => parseInt(pair, 16));
  return bytes.subarray(1, Math.max(1, bytes.length - 1));
}
