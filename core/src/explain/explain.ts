import { detectFramings, codecOf } from '../codec/index.js';
import type { Direction, FrameField, Framing } from '../frame/index.js';
import { explainPdu } from './explain-pdu.js';

export interface ExplainedFrame {
  framing: Framing;
  ok: boolean;
  /** Every byte belongs to exactly one field; `from` and `to` are zero-based and both ends count. */
  fields: FrameField[];
  problems: string[];
  sentence: string;
}

/** Says of every byte what it means, and of the whole frame what it asks or answers. Damaged frames are explained as far as they go. */
export function explainFrame(bytes: Uint8Array, framing: Framing | 'auto', direction?: Direction): ExplainedFrame {
  const chosen = framing === 'auto' ? (detectFramings(bytes)[0]?.framing ?? 'rtu') : framing;
  const { open, charactersPerByte, hasBroadcast } = codecOf(chosen);
  const envelope = open(bytes);
  const inside = explainPdu(envelope.pdu, envelope.pduAt, direction, charactersPerByte);
  const problems = [...envelope.problems, ...inside.problems];
  const who =
    envelope.unit === undefined ? 'An unknown unit' : envelope.unit === 0 && hasBroadcast ? 'Every unit' : `Unit ${envelope.unit}`;
  return {
    framing: chosen,
    ok: problems.length === 0,
    fields: [...envelope.before, ...inside.fields, ...envelope.after],
    problems,
    sentence: [`${who} ${inside.sentence}`, ...problems.slice(0, 1)].join(' '),
  };
}
