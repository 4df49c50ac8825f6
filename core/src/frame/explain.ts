import * as z from 'zod';
import { MBAP_BYTES } from './adu.js';
import { crc16, lrc } from './checksum.js';
import { explainPdu, type Direction, type FrameField } from './explain-pdu.js';
import { toHex } from './hex.js';

export { type FrameField } from './explain-pdu.js';

export const Framing = z.enum(['tcp', 'rtu', 'ascii']);
export type Framing = z.infer<typeof Framing>;

export interface ExplainedFrame {
  framing: Framing;
  ok: boolean;
  /** Every byte belongs to exactly one field; `from` and `to` are zero-based and both ends count. */
  fields: FrameField[];
  problems: string[];
  sentence: string;
}

/** What surrounds the PDU: fields before and after it, and what is wrong with them. */
interface Envelope {
  unit: number | undefined;
  before: FrameField[];
  pdu: Uint8Array;
  pduAt: number;
  after: FrameField[];
  problems: string[];
}

const envelopes: Record<Framing, (bytes: Uint8Array) => Envelope> = { tcp: openTcp, rtu: openRtu, ascii: openAscii };

/** Says of every byte what it means, and of the whole frame what it asks or answers. Damaged frames are explained as far as they go. */
export function explainFrame(bytes: Uint8Array, framing: Framing | 'auto', direction?: Direction): ExplainedFrame {
  const chosen = framing === 'auto' ? detect(bytes) : framing;
  const envelope = envelopes[chosen](bytes);
  const inside = explainPdu(envelope.pdu, envelope.pduAt, direction, chosen === 'ascii' ? 2 : 1);
  const problems = [...envelope.problems, ...inside.problems];
  const who =
    envelope.unit === undefined ? 'An unknown unit' : envelope.unit === 0 && chosen !== 'tcp' ? 'Every unit' : `Unit ${envelope.unit}`;
  return {
    framing: chosen,
    ok: problems.length === 0,
    fields: [...envelope.before, ...inside.fields, ...envelope.after],
    problems,
    sentence: [`${who} ${inside.sentence}`, ...problems.slice(0, 1)].join(' '),
  };
}

function detect(bytes: Uint8Array): Framing {
  if (bytes[0] === 0x3a) return 'ascii';
  if (bytes.length > 3 && crc16(bytes, 0, bytes.length - 2) === (bytes.at(-2)! | (bytes.at(-1)! << 8))) return 'rtu';
  const protocol = bytes.length > 3 && bytes[2] === 0 && bytes[3] === 0;
  const length = ((bytes[4] ?? 0) << 8) | (bytes[5] ?? 0);
  return protocol && length >= 2 && length <= 254 && bytes.length >= 6 ? 'tcp' : 'rtu';
}

function openTcp(bytes: Uint8Array): Envelope {
  const problems: string[] = [];
  const before: FrameField[] = [];
  const number = (at: number) => ((bytes[at] ?? 0) << 8) | (bytes[at + 1] ?? 0);
  const header: [string, number, number, string][] = [
    ['transaction', 0, 1, `transaction ${number(0)}; the answer carries the same number`],
    ['protocol', 2, 3, number(2) === 0 ? 'Modbus' : `protocol ${number(2)}, not Modbus`],
    ['length', 4, 5, `${number(4)} bytes follow`],
    ['unit', 6, 6, `unit ${bytes[6]}`],
  ];
  for (const [name, from, to, meaning] of header) {
    if (bytes.length > to) before.push({ name, from, to, hex: toHex(bytes.subarray(from, to + 1)), meaning });
  }
  if (bytes.length < MBAP_BYTES + 1) {
    problems.push(`The frame ends after ${bytes.length} bytes; the header alone takes ${MBAP_BYTES}.`);
    const rest = before.at(-1)?.to ?? -1;
    if (rest + 1 < bytes.length) before.push(leftover(bytes, rest + 1, bytes.length - 1));
    return { unit: bytes[6], before, pdu: new Uint8Array(), pduAt: bytes.length, after: [], problems };
  }
  if (number(2) !== 0) problems.push(`The protocol field is ${number(2)}; Modbus has 0.`);
  const end = 6 + number(4);
  if (end > bytes.length)
    problems.push(`The header announces ${number(4)} bytes; ${bytes.length - 6} are there, so the frame is cut short.`);
  if (end < bytes.length) problems.push(`${bytes.length - end} bytes follow after the end that the header states.`);
  const cut = Math.max(MBAP_BYTES, Math.min(end, bytes.length));
  const after = cut < bytes.length ? [leftover(bytes, cut, bytes.length - 1)] : [];
  return { unit: bytes[6], before, pdu: bytes.subarray(MBAP_BYTES, cut), pduAt: MBAP_BYTES, after, problems };
}

function openRtu(bytes: Uint8Array): Envelope {
  const before = bytes.length ? [unitField(bytes[0]!, 0, 0, toHex(bytes.subarray(0, 1)))] : [];
  if (bytes.length < 4) {
    const after = bytes.length > 1 ? [leftover(bytes, 1, bytes.length - 1)] : [];
    const problems = [`The frame ends after ${bytes.length} byte${bytes.length === 1 ? '' : 's'}; the shortest has 4.`];
    return { unit: bytes[0], before, pdu: new Uint8Array(), pduAt: bytes.length, after, problems };
  }
  const end = bytes.length - 2;
  const right = crc16(bytes, 0, end);
  const sent = bytes[end]! | (bytes[end + 1]! << 8);
  const expected = toHex([right & 0xff, right >>> 8]);
  const ok = sent === right;
  const crc: FrameField = {
    name: 'crc',
    from: end,
    to: end + 1,
    hex: toHex(bytes.subarray(end)),
    meaning: ok ? 'checksum, right' : `checksum, wrong: ${expected} was to be expected`,
  };
  const problems = ok ? [] : [`The checksum is ${crc.hex}, but these bytes have ${expected}: the frame is damaged or cut short.`];
  return { unit: bytes[0], before, pdu: bytes.subarray(1, end), pduAt: 1, after: [crc], problems };
}

/** ASCII: every byte of unit, PDU and LRC is two hex characters, so fields are counted in characters (V1.02, 2.5.2). */
function openAscii(bytes: Uint8Array): Envelope {
  const text = String.fromCharCode(...bytes);
  const field = (name: string, from: number, to: number, meaning: string): FrameField => ({
    name,
    from,
    to,
    hex: toHex(bytes.subarray(from, to + 1)),
    meaning,
  });
  const colon = text.startsWith(':');
  const start = colon ? 1 : 0;
  const ending = text.endsWith('\r\n') ? 2 : 0;
  const digits = text.slice(start, text.length - ending);
  const before = colon ? [field('start', 0, 0, 'a colon starts the frame')] : [];
  const end = ending ? [field('end', text.length - 2, text.length - 1, 'carriage return and line feed end the frame')] : [];
  const problems: string[] = [];
  if (!colon) problems.push('No colon starts the frame.');
  if (!ending) problems.push('Carriage return and line feed are missing: the frame is cut short.');
  if (digits.length % 2 || /[^0-9A-Fa-f]/.test(digits) || digits.length < 6) {
    problems.push('Between the colon and the end there are no whole pairs of hex characters for unit, function and checksum.');
    const rest = digits.length ? [leftover(bytes, start, start + digits.length - 1)] : [];
    return { unit: undefined, before: [...before, ...rest], pdu: new Uint8Array(), pduAt: start + digits.length, after: end, problems };
  }
  const raw = Uint8Array.from(digits.match(/../g)!, (pair) => parseInt(pair, 16));
  const right = lrc(raw.subarray(0, -1));
  const ok = right === raw.at(-1);
  if (!ok)
    problems.push(`The checksum is ${toHex([raw.at(-1)!])}, but these bytes have ${toHex([right])}: the frame is damaged or cut short.`);
  const lrcAt = start + digits.length - 2;
  return {
    unit: raw[0],
    before: [...before, { ...unitField(raw[0]!, start, start + 1, ''), hex: toHex(bytes.subarray(start, start + 2)) }],
    pdu: raw.subarray(1, -1),
    pduAt: start + 2,
    after: [field('lrc', lrcAt, lrcAt + 1, ok ? 'checksum, right' : `checksum, wrong: ${toHex([right])} was to be expected`), ...end],
    problems,
  };
}

function unitField(unit: number, from: number, to: number, hex: string): FrameField {
  return { name: 'unit', from, to, hex, meaning: unit === 0 ? 'broadcast: every unit, and none answers' : `unit ${unit}` };
}

function leftover(bytes: Uint8Array, from: number, to: number): FrameField {
  return { name: 'leftover', from, to, hex: toHex(bytes.subarray(from, to + 1)), meaning: 'belongs to no field' };
}
