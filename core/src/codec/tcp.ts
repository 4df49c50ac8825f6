import { bytesText, type FrameField, tcpFacts, toHex } from '../frame/index.js';
import { type Addressed, type Envelope, type FramingDefinition, leftover } from './framing.js';

export const MBAP_BYTES = 7;
/** So few bytes are copied faster one by one. */
const FEW = 24;

export const tcp: FramingDefinition<'tcp'> = {
  ...tcpFacts,
  likeness(bytes) {
    const length = ((bytes[4] ?? 0) << 8) | (bytes[5] ?? 0);
    if (bytes.length < 6 || bytes[2] !== 0 || bytes[3] !== 0 || length < 2 || length > 254) return null;
    const follow = bytes.length - 6;
    if (length === follow) return { how: 'sure', why: 'their header announces just as many bytes as follow' };
    return { how: 'possible', why: `their header could be one, though ${follow} bytes follow where it announces ${length}` };
  },
  inside: (frame) => ({ unit: frame[6] ?? 0, pdu: frame.subarray(MBAP_BYTES) }),
  open,
};

/** Modbus TCP frame: the seven bytes of the MBAP header, then the PDU (Messaging on TCP/IP V1.0b, 3.1.3). */
export function tcpFrame(transaction: number, addressed: Addressed): Uint8Array {
  return fillTcpFrame(new Uint8Array(MBAP_BYTES + addressed.pdu.length), transaction, addressed);
}

/** The same into bytes that the caller provides: exactly seven more than the PDU has, with whatever content. */
export function fillTcpFrame<T extends Uint8Array>(frame: T, transaction: number, { unit, pdu }: Addressed): T {
  const length = pdu.length + 1;
  frame[0] = transaction >>> 8;
  frame[1] = transaction & 0xff;
  frame[2] = 0;
  frame[3] = 0;
  frame[4] = length >>> 8;
  frame[5] = length & 0xff;
  frame[6] = unit;
  if (pdu.length > FEW) frame.set(pdu, MBAP_BYTES);
  else for (let at = 0; at < pdu.length; at++) frame[MBAP_BYTES + at] = pdu[at]!;
  return frame;
}

function open(bytes: Uint8Array): Envelope {
  const problems: string[] = [];
  const before: FrameField[] = [];
  const number = (at: number) => ((bytes[at] ?? 0) << 8) | (bytes[at + 1] ?? 0);
  const header: [string, number, number, string][] = [
    ['transaction', 0, 1, `transaction ${number(0)}; the answer carries the same number`],
    ['protocol', 2, 3, number(2) === 0 ? 'Modbus' : `protocol ${number(2)}, not Modbus`],
    ['length', 4, 5, number(4) === 1 ? '1 byte follows' : `${number(4)} bytes follow`],
    ['unit', 6, 6, `unit ${bytes[6]}`],
  ];
  for (const [name, from, to, meaning] of header) {
    if (bytes.length > to) before.push({ name, from, to, hex: toHex(bytes.subarray(from, to + 1)), meaning });
  }
  if (bytes.length < MBAP_BYTES + 1) {
    problems.push(`The frame ends after ${bytesText(bytes.length)}; the header alone takes ${MBAP_BYTES}.`);
    const rest = before.at(-1)?.to ?? -1;
    if (rest + 1 < bytes.length) before.push(leftover(bytes, rest + 1, bytes.length - 1));
    return { unit: bytes[6], before, pdu: new Uint8Array(), pduAt: bytes.length, after: [], problems };
  }
  if (number(2) !== 0) problems.push(`The protocol field is ${number(2)}; Modbus has 0.`);
  const end = 6 + number(4);
  if (end > bytes.length) problems.push(`The header announces ${number(4)} bytes; ${bytes.length - 6} came, so the frame is cut short.`);
  if (end < bytes.length) problems.push(`Past the end that the header states: ${bytesText(bytes.length - end)}.`);
  const cut = Math.max(MBAP_BYTES, Math.min(end, bytes.length));
  const after = cut < bytes.length ? [leftover(bytes, cut, bytes.length - 1)] : [];
  return { unit: bytes[6], before, pdu: bytes.subarray(MBAP_BYTES, cut), pduAt: MBAP_BYTES, after, problems };
}
