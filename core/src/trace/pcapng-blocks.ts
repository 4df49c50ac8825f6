import { joined, padded } from '../common/index.js';

const SECTION = 0x0a0d0d0a;
const INTERFACE = 1;
const PACKET = 6;
const BYTE_ORDER = 0x1a2b3c4d;
const SNAP = 262_144;
const [COMMENT, FLAGS] = [1, 2];

/** What is told of a packet beside its bytes. */
export interface PacketNote {
  /** On which interface it was, counted in the order of their blocks; the first where it is not said. */
  on?: number;
  comment?: string;
  /** Seen from who recorded it. */
  direction?: 'in' | 'out';
}

/** With what a pcapng file begins (IETF draft-ietf-opsawg-pcapng, section 4.1). */
export function sectionBlock(): Uint8Array {
  const body = new DataView(new ArrayBuffer(16));
  body.setUint32(0, BYTE_ORDER, true);
  body.setUint16(4, 1, true);
  body.setBigInt64(8, -1n, true);
  return block(SECTION, new Uint8Array(body.buffer));
}

/** An interface, of which all packets after it are (section 4.2). */
export function interfaceBlock(linkType: number): Uint8Array {
  const body = new DataView(new ArrayBuffer(8));
  body.setUint16(0, linkType, true);
  body.setUint32(4, SNAP, true);
  return block(INTERFACE, new Uint8Array(body.buffer));
}

/** A packet with its time, ms since 1970, and what is told of it (section 4.3). */
export function packetBlock(atMs: number, packet: Uint8Array, note: PacketNote = {}): Uint8Array {
  const head = new DataView(new ArrayBuffer(20));
  const micros = BigInt(Math.round(atMs * 1000));
  head.setUint32(0, note.on ?? 0, true);
  head.setUint32(4, Number(micros >> 32n), true);
  head.setUint32(8, Number(micros & 0xffff_ffffn), true);
  head.setUint32(12, packet.length, true);
  head.setUint32(16, packet.length, true);
  return block(PACKET, joined([new Uint8Array(head.buffer), wholeWords(packet), ...optionsOf(note)]));
}

function optionsOf({ comment, direction }: PacketNote): Uint8Array[] {
  const options: Uint8Array[] = [];
  if (comment) options.push(option(COMMENT, new TextEncoder().encode(comment)));
  if (direction) options.push(option(FLAGS, Uint8Array.of(direction === 'in' ? 1 : 2, 0, 0, 0)));
  return options.length ? [...options, option(0, new Uint8Array())] : [];
}

function option(code: number, value: Uint8Array): Uint8Array {
  const head = new DataView(new ArrayBuffer(4));
  head.setUint16(0, code, true);
  head.setUint16(2, value.length, true);
  return joined([new Uint8Array(head.buffer), wholeWords(value)]);
}

function wholeWords(bytes: Uint8Array): Uint8Array {
  const whole = new Uint8Array(padded(bytes.length));
  whole.set(bytes);
  return whole;
}

function block(type: number, body: Uint8Array): Uint8Array {
  const length = 12 + body.length;
  const bytes = new Uint8Array(length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, type, true);
  view.setUint32(4, length, true);
  bytes.set(body, 8);
  view.setUint32(length - 4, length, true);
  return bytes;
}
