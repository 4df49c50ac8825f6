import { padded } from '../common/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { Packets } from './packets.js';
import { pairFrames } from './pair.js';
import type { TraceRecord } from './record.js';

const SECTION = 0x0a0d0d0a;
const BYTE_ORDER = 0x1a2b3c4d;
const [INTERFACE, SIMPLE, PACKET] = [1, 3, 6];
const [RESOLUTION, OFFSET] = [9, 14];

/** The beginnings of a classic file: ticks a second, and whether its numbers begin with their low byte. */
const classic: Readonly<Record<number, { perSecond: number; little: boolean }>> = {
  0xa1b2c3d4: { perSecond: 1_000_000, little: false },
  0xd4c3b2a1: { perSecond: 1_000_000, little: true },
  0xa1b23c4d: { perSecond: 1_000_000_000, little: false },
  0x4d3cb2a1: { perSecond: 1_000_000_000, little: true },
};

/**
 * The Modbus TCP exchanges in a file of a packet analyser: pcapng (IETF draft-ietf-opsawg-pcapng) or the classic form before it
 * (draft-ietf-opsawg-pcap). A problem says what the file is not.
 */
export function readPackets(bytes: Uint8Array): Outcome<TraceRecord[]> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const magic = bytes.length < 24 ? 0 : view.getUint32(0);
  const form = classic[magic];
  if (!form && magic !== SECTION) return bad('This is no file of a packet analyser (pcap or pcapng): it does not start as one.');
  const packets = new Packets();
  const endsAt = form ? readClassic(bytes, view, form, packets) : readBlocks(bytes, view, packets);
  if (packets.frames.length > 0) return good(pairFrames(packets.frames));
  return bad(endsAt === null ? 'No Modbus TCP is in this recording.' : `The file ends inside a block at byte ${endsAt}.`);
}

/** Where the file breaks off; null where it is whole. */
type EndsAt = number | null;

function readClassic(
  bytes: Uint8Array,
  view: DataView,
  { perSecond, little }: { perSecond: number; little: boolean },
  packets: Packets,
): EndsAt {
  // The upper bits tell of checksums at the end of frames, which are behind what is looked at.
  const link = view.getUint32(20, little) & 0xffff;
  let at = 24;
  while (at + 16 <= bytes.length) {
    const number = (from: number) => view.getUint32(at + from, little);
    const size = number(8);
    if (at + 16 + size > bytes.length) return at;
    packets.add(bytes.subarray(at + 16, at + 16 + size), link, number(0) * 1000 + (number(4) * 1000) / perSecond);
    at += 16 + size;
  }
  return at === bytes.length ? null : at;
}

interface Interface {
  link: number;
  perSecond: number;
  /** Seconds that are added to its times. */
  offset: number;
}

/** A file may have several sections, each with an order of bytes and interfaces of its own. */
function readBlocks(bytes: Uint8Array, view: DataView, packets: Packets): EndsAt {
  let little = true;
  let interfaces: Interface[] = [];
  for (let at = 0; at + 12 <= bytes.length;) {
    if (view.getUint32(at) === SECTION) {
      little = view.getUint32(at + 8, true) === BYTE_ORDER;
      interfaces = [];
    }
    const type = view.getUint32(at, little);
    const length = view.getUint32(at + 4, little);
    if (length < 12 || length % 4 || at + length > bytes.length) return at;
    if (type === INTERFACE && length >= 20) interfaces.push(interfaceAt(bytes, view, at, length, little));
    if (type === PACKET && length >= 32) {
      const from = interfaces[view.getUint32(at + 8, little)];
      const ticks = (BigInt(view.getUint32(at + 12, little)) << 32n) | BigInt(view.getUint32(at + 16, little));
      const size = Math.min(view.getUint32(at + 20, little), length - 32);
      if (from) packets.add(bytes.subarray(at + 28, at + 28 + size), from.link, (Number(ticks) / from.perSecond + from.offset) * 1000);
    }
    if (type === SIMPLE && interfaces[0]) packets.add(bytes.subarray(at + 12, at + length - 4), interfaces[0].link, null);
    at += length;
  }
  return null;
}

/** Microseconds since 1970, unless an option says otherwise (if_tsresol, if_tsoffset). */
function interfaceAt(bytes: Uint8Array, view: DataView, block: number, size: number, little: boolean): Interface {
  const found: Interface = { link: view.getUint16(block + 8, little), perSecond: 1_000_000, offset: 0 };
  for (let at = block + 16; at + 4 <= block + size - 4;) {
    const [code, length] = [view.getUint16(at, little), view.getUint16(at + 2, little)];
    if (code === 0) break;
    if (code === RESOLUTION && length === 1) found.perSecond = bytes[at + 4]! & 0x80 ? 2 ** (bytes[at + 4]! & 0x7f) : 10 ** bytes[at + 4]!;
    if (code === OFFSET && length === 8 && at + 12 <= bytes.length) found.offset = Number(view.getBigInt64(at + 4, little));
    at += 4 + padded(length);
  }
  return found;
}
