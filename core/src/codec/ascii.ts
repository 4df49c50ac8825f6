import { asciiFacts, type FrameField, lrc, toHex } from '../frame/index.js';
import { type Addressed, type Envelope, leftover, type SerialFramingDefinition, unitField } from './framing.js';

const COLON = 0x3a;
const CR = 0x0d;
const LF = 0x0a;
/** Colon, 2 × (unit, PDU of 253, LRC), CR LF (V1.02, 2.5.2.1). */
const MAX_ASCII_CHARACTERS = 513;

/** A frame ends with CR LF and needs no silence. */
export const ascii: SerialFramingDefinition<'ascii'> = {
  ...asciiFacts,
  likeness(bytes) {
    if (readAsciiFrame(bytes)) return { how: 'sure', why: 'they are a colon and hex digits whose checksum is right' };
    if (bytes[0] === COLON) return { how: 'likely', why: 'they begin with a colon' };
    return bytes.includes(COLON) && bytes.every(isText) ? { how: 'likely', why: 'they are text with a colon in it' } : null;
  },
  inside(frame) {
    const digits = String.fromCharCode(...frame).replace(/[^0-9A-Fa-f]/g, '');
    const bytes = Uint8Array.from(digits.match(/../g) ?? [], (pair) => parseInt(pair, 16));
    return { unit: bytes[0] ?? 0, pdu: bytes.subarray(1, Math.max(1, bytes.length - 1)) };
  },
  open,
  encode: asciiFrame,
  decode: readAsciiFrame,
  wholeFrame: (bytes) => bytes.indexOf(LF) + 1,
  noiseBefore,
  longestPauseMs: 1000,
};

function isText(byte: number): boolean {
  return (byte >= 0x20 && byte < 0x7f) || byte === CR || byte === LF;
}

/** What comes before the colon is none of the frame, and a colon in the middle of one begins anew (V1.02, 2.5.2.1). */
function noiseBefore(bytes: Uint8Array): number {
  const end = bytes.indexOf(LF);
  const colon = bytes.lastIndexOf(COLON, end < 0 ? bytes.length : end);
  if (colon >= 0) return colon;
  return end < 0 ? bytes.length : end + 1;
}

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

/** ASCII: every byte of unit, PDU and LRC is two hex characters, so fields are counted in characters (V1.02, 2.5.2). */
function open(bytes: Uint8Array): Envelope {
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
