import { bytesText, crc16, type Direction, type FrameField, functionOf, rtuFacts, toHex } from '../frame/index.js';
import { type Addressed, type Envelope, leftover, type Likeness, type SerialFramingDefinition, unitField } from './framing.js';
import { inquiryOf } from './inquiries/index.js';
import { pduLength } from './pdu-length.js';

const MAX_RTU_BYTES = 256;

export const rtu: SerialFramingDefinition<'rtu'> = {
  ...rtuFacts,
  likeness,
  inside: (frame) => ({ unit: frame[0] ?? 0, pdu: frame.subarray(1, Math.max(1, frame.length - 2)) }),
  open,
  encode: rtuFrame,
  decode: readRtuFrame,
  wholeFrame,
  noiseBefore: () => 0,
  // The standard's 1.5 characters cannot be seen from here: operating systems deliver serial bytes in lumps.
  longestPauseMs: 60,
};

function likeness(bytes: Uint8Array): Likeness | null {
  if (readRtuFrame(bytes)) return { how: 'sure', why: 'their checksum is right' };
  const code = bytes[1]! & 0x7f;
  if (bytes.length < 4 || !(functionOf(code) ?? inquiryOf(code))) return null;
  if ([frameLength(bytes, 'request'), frameLength(bytes, 'response')].includes(bytes.length))
    return { how: 'likely', why: `function ${code} has frames of ${bytes.length} bytes, though the checksum is wrong` };
  return { how: 'possible', why: `the second byte is function ${code}` };
}

/** RTU frame: unit, PDU, CRC low byte first (Modbus over serial line V1.02, 2.5.1). */
export function rtuFrame({ unit, pdu }: Addressed): Uint8Array {
  const frame = new Uint8Array(pdu.length + 3);
  frame[0] = unit;
  frame.set(pdu, 1);
  const crc = crc16(frame, 0, pdu.length + 1);
  frame[pdu.length + 1] = crc & 0xff;
  frame[pdu.length + 2] = crc >>> 8;
  return frame;
}

/** The unit and PDU of a whole RTU frame; null where its length or CRC is wrong. */
export function readRtuFrame(frame: Uint8Array): Addressed | null {
  const end = frame.length - 2;
  if (end < 2 || frame.length > MAX_RTU_BYTES) return null;
  if (crc16(frame, 0, end) !== (frame[end]! | (frame[end + 1]! << 8))) return null;
  return { unit: frame[0]!, pdu: frame.subarray(1, end) };
}

/** RTU frames have no end mark: their length follows from function code and byte count (V1.1b3, section 6). */
function wholeFrame(bytes: Uint8Array, direction: Direction): number | null {
  if (bytes.length < 4) return 0;
  const length = frameLength(bytes, direction);
  if (length === null || (length > MAX_RTU_BYTES && length !== Infinity)) return null;
  return bytes.length >= length ? length : 0;
}

/** The length of a frame that begins with these bytes; Infinity while they do not tell yet, null where they never do. */
function frameLength(bytes: Uint8Array, direction: Direction): number | null {
  const length = pduLength(bytes.subarray(1), direction);
  return length === null ? null : length + 3;
}

function open(bytes: Uint8Array): Envelope {
  const before = bytes.length ? [unitField(bytes[0]!, 0, 0, toHex(bytes.subarray(0, 1)))] : [];
  if (bytes.length < 4) {
    const after = bytes.length > 1 ? [leftover(bytes, 1, bytes.length - 1)] : [];
    const problems = [`The frame ends after ${bytesText(bytes.length)}; the shortest has 4.`];
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
