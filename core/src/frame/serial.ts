import { type Addressed, MAX_RTU_BYTES, readRtuFrame, rtuFrame } from './adu.js';
import { lrc } from './checksum.js';
import { functionOf } from './functions.js';

const COLON = 0x3a;
const CR = 0x0d;
const LF = 0x0a;
/** Colon, 2 × (unit, PDU of 253, LRC), CR LF (V1.02, 2.5.2.1). */
const MAX_ASCII_CHARACTERS = 513;

/** ASCII frame: colon, unit, PDU and LRC as pairs of hex characters, CR LF (Modbus over serial line V1.02, 2.5.2). */
export function asciiFrame({ unit, pdu }: Addressed): Uint8Array {
  const bytes = Uint8Array.of(unit, ...pdu);
  const hex = [...bytes, lrc(bytes)].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join('');
  return Uint8Array.from([COLON, ...[...hex].map((digit) => digit.charCodeAt(0)), CR, LF]);
}

/** The unit and PDU of a whole ASCII frame; null where it is damaged. */
export function readAsciiFrame(frame: Uint8Array): Addressed | null {
  const text = String.fromCharCode(...frame);
  const pairs = /^:((?:[0-9A-Fa-f]{2}){3,})\r\n$/.exec(text)?.[1]?.match(/../g);
  if (!pairs || frame.length > MAX_ASCII_CHARACTERS) return null;
  const bytes = Uint8Array.from(pairs, (pair) => parseInt(pair, 16));
  if (lrc(bytes.subarray(0, -1)) !== bytes.at(-1)) return null;
  return { unit: bytes[0]!, pdu: bytes.slice(1, -1) };
}

/** How frames look on a serial line, and where in a stream of bytes one ends. */
export interface SerialCodec {
  encode(addressed: Addressed): Uint8Array;
  /** null where the frame is damaged. */
  decode(frame: Uint8Array): Addressed | null;
  /** How many of these bytes are one whole frame; 0 while it is incomplete, null where only a silence can tell. */
  wholeFrame(bytes: Uint8Array, direction: 'request' | 'response'): number | null;
}

export const serialCodecs: Readonly<Record<'rtu' | 'ascii', SerialCodec>> = {
  rtu: { encode: rtuFrame, decode: readRtuFrame, wholeFrame: wholeRtuFrame },
  ascii: {
    encode: asciiFrame,
    decode: readAsciiFrame,
    wholeFrame: (bytes) => bytes.indexOf(LF) + 1,
  },
};

/** RTU frames have no end mark: their length follows from function code and byte count (V1.1b3, section 6). */
function wholeRtuFrame(bytes: Uint8Array, direction: 'request' | 'response'): number | null {
  if (bytes.length < 4) return 0;
  const length = direction === 'request' ? requestLength(bytes) : responseLength(bytes);
  if (length === null || (length > MAX_RTU_BYTES && length !== Infinity)) return null;
  return bytes.length >= length ? length : 0;
}

function requestLength(bytes: Uint8Array): number | null {
  const code = bytes[1]!;
  if (code === 17) return 4;
  if (code === 43) return 7;
  const known = functionOf(code);
  if (!known) return null;
  if (known.kind === 'mask') return 10;
  if (known.kind !== 'write-many' && known.kind !== 'exchange') return 8;
  const countAt = known.kind === 'exchange' ? 10 : 6;
  return bytes.length > countAt ? countAt + 3 + bytes[countAt]! : Infinity;
}

function responseLength(bytes: Uint8Array): number | null {
  const code = bytes[1]!;
  if (code & 0x80) return 5;
  if (code === 17) return 5 + bytes[2]!;
  const known = functionOf(code);
  if (!known) return null;
  return known.kind === 'read' || known.kind === 'exchange' ? 5 + bytes[2]! : known.kind === 'mask' ? 10 : 8;
}
