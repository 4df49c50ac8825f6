import { ipNumber, ipText } from '../network/index.js';
import { tcpFrame } from '../frame/index.js';
import { pduOf, type TraceRecord } from './record.js';
import { pairFrames, type TimedFrame } from './pair.js';
import { bad, good, type Outcome } from '../outcome/index.js';

/** Where a connection of a recording goes. */
export interface Peer {
  ip: string;
  port: number;
}

const SECTION = 0x0a0d0d0a;
const INTERFACE = 1;
const SIMPLE = 3;
const PACKET = 6;
const BYTE_ORDER = 0x1a2b3c4d;
const ETHERNET = 1;
const [FIN_NONE, SYN, ACK, PUSH] = [0, 2, 16, 8];
const OWN_PORT = 50_000;
const SNAP = 262_144;

/**
 * Exchanges as a pcapng file that packet analysers open (IETF draft-ietf-opsawg-pcapng): one Ethernet interface, one TCP
 * connection for each endpoint, opened with its handshake. `peerOf` says where an endpoint is; records without times follow
 * each other by the millisecond. What went over a serial line stands as the same questions over TCP; damaged answers of one are
 * left out, as they have no such form.
 */
export function writePcapng(records: readonly TraceRecord[], peerOf: (endpointId: string) => Peer | null): Uint8Array {
  const writer = new PcapngWriter(peerOf);
  return joined([writer.begin(), writer.add(records)]);
}

/** The same piece by piece, for a file that grows: `begin` once, then `add` as exchanges come. */
export class PcapngWriter {
  private readonly connections = new Map<string, Connection>();
  private clock = 0;

  constructor(private readonly peerOf: (endpointId: string) => Peer | null) {}

  begin(): Uint8Array {
    return joined([sectionBlock(), interfaceBlock()]);
  }

  /** These exchanges, in the order of their times. */
  add(records: readonly TraceRecord[]): Uint8Array {
    const packets = records.flatMap((record) => this.packetsOf(record)).sort((a, b) => a.atMs - b.atMs);
    return joined(
      packets.flatMap(({ atMs, record, isAnswer, frame }) => {
        const { connection, handshake } = this.connectionTo(record.endpointId, atMs);
        return connection ? [...handshake, packetBlock(atMs, segment(connection, isAnswer, PUSH | ACK, frame))] : [];
      }),
    );
  }

  private packetsOf(record: TraceRecord): { atMs: number; record: TraceRecord; isAnswer: boolean; frame: Uint8Array }[] {
    this.clock += 1;
    const atMs = record.atMs ?? this.clock;
    const [sent, got] = [overTcp(record, record.sent), overTcp(record, record.got)];
    return [
      ...(sent ? [{ atMs, record, isAnswer: false, frame: sent }] : []),
      ...(got ? [{ atMs: atMs + (record.sent ? (record.ms ?? 0.5) : 0), record, isAnswer: true, frame: got }] : []),
    ];
  }

  /** The connection to an endpoint, and the packets that open it where it is new. */
  private connectionTo(endpointId: string, atMs: number): { connection: Connection | null; handshake: Uint8Array[] } {
    const known = this.connections.get(endpointId);
    if (known) return { connection: known, handshake: [] };
    const peer = this.peerOf(endpointId);
    if (!peer) return { connection: null, handshake: [] };
    const ownPort = OWN_PORT + this.connections.size;
    const connection = { peer, own: ownAddress(peer.ip), ownPort, sequence: { asks: 1000, answers: 5000 }, packets: 0 };
    this.connections.set(endpointId, connection);
    const steps = [
      [false, SYN],
      [true, SYN | ACK],
      [false, ACK],
    ] as const;
    return {
      connection,
      handshake: steps.map(([fromServer, flags]) => packetBlock(atMs, segment(connection, fromServer, flags, new Uint8Array()))),
    };
  }
}

/** A frame as it would be over TCP; null where there is none. */
function overTcp(record: TraceRecord, frame: Uint8Array | null): Uint8Array | null {
  if (!frame || record.framing === 'tcp') return frame;
  if (frame !== record.sent && record.end === 'damaged') return null;
  return tcpFrame(record.number & 0xffff, { unit: record.unit, pdu: pduOf(frame, record.framing) });
}

interface Connection {
  peer: Peer;
  own: string;
  ownPort: number;
  sequence: { asks: number; answers: number };
  packets: number;
}

/** An address of this side in the network of the other. */
function ownAddress(ip: string): string {
  const host = Number(ip.split('.')[3]);
  return ip.replace(/\d+$/, String(host === 250 ? 251 : 250));
}

function sectionBlock(): Uint8Array {
  const body = new DataView(new ArrayBuffer(16));
  body.setUint32(0, BYTE_ORDER, true);
  body.setUint16(4, 1, true);
  body.setBigInt64(8, -1n, true);
  return block(SECTION, new Uint8Array(body.buffer));
}

function interfaceBlock(): Uint8Array {
  const body = new DataView(new ArrayBuffer(8));
  body.setUint16(0, ETHERNET, true);
  body.setUint32(4, SNAP, true);
  return block(INTERFACE, new Uint8Array(body.buffer));
}

function packetBlock(atMs: number, packet: Uint8Array): Uint8Array {
  const body = new Uint8Array(20 + padded(packet.length));
  const view = new DataView(body.buffer);
  const micros = BigInt(Math.round(atMs * 1000));
  view.setUint32(4, Number(micros >> 32n), true);
  view.setUint32(8, Number(micros & 0xffff_ffffn), true);
  view.setUint32(12, packet.length, true);
  view.setUint32(16, packet.length, true);
  body.set(packet, 20);
  return block(PACKET, body);
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

/** Ethernet, IPv4 (RFC 791) and TCP (RFC 9293) around some bytes. */
function segment(connection: Connection, fromServer: boolean, flags: number, data: Uint8Array): Uint8Array {
  const { peer, own, ownPort, sequence } = connection;
  const [from, to] = fromServer ? [peer.ip, own] : [own, peer.ip];
  const [fromPort, toPort] = fromServer ? [peer.port, ownPort] : [ownPort, peer.port];
  const [mine, theirs] = fromServer ? (['answers', 'asks'] as const) : (['asks', 'answers'] as const);
  const bytes = new Uint8Array(54 + data.length);
  const view = new DataView(bytes.buffer);
  bytes.set(fromServer ? [2, 0, 0, 0, 0, 1, 2, 0, 0, 0, 0, 2] : [2, 0, 0, 0, 0, 2, 2, 0, 0, 0, 0, 1]);
  view.setUint16(12, 0x0800);
  view.setUint8(14, 0x45);
  view.setUint16(16, 40 + data.length);
  view.setUint16(18, (connection.packets += 1) & 0xffff);
  view.setUint16(20, 0x4000);
  view.setUint8(22, 64);
  view.setUint8(23, 6);
  view.setUint32(26, ipNumber(from) ?? 0);
  view.setUint32(30, ipNumber(to) ?? 0);
  view.setUint16(24, checksum(bytes.subarray(14, 34), 0));
  view.setUint16(34, fromPort);
  view.setUint16(36, toPort);
  view.setUint32(38, sequence[mine]);
  view.setUint32(42, flags & ACK ? sequence[theirs] : FIN_NONE);
  view.setUint8(46, 0x50);
  view.setUint8(47, flags);
  view.setUint16(48, 64_240);
  bytes.set(data, 54);
  const pseudo =
    (ipNumber(from)! >>> 16) + (ipNumber(from)! & 0xffff) + (ipNumber(to)! >>> 16) + (ipNumber(to)! & 0xffff) + 6 + 20 + data.length;
  view.setUint16(50, checksum(bytes.subarray(34), pseudo));
  sequence[mine] = (sequence[mine] + data.length + (flags & SYN ? 1 : 0)) >>> 0;
  return bytes;
}

/** The Internet checksum (RFC 1071). */
function checksum(bytes: Uint8Array, start: number): number {
  let sum = start;
  for (let at = 0; at < bytes.length; at += 2) sum += (bytes[at]! << 8) | (bytes[at + 1] ?? 0);
  while (sum > 0xffff) sum = (sum & 0xffff) + (sum >>> 16);
  return ~sum & 0xffff;
}

/** The Modbus TCP exchanges in a pcapng file. A problem says what the file is not. */
export function readPcapng(bytes: Uint8Array): Outcome<TraceRecord[]> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 28 || view.getUint32(0) !== SECTION) return bad('This is no pcapng file: it does not start as one.');
  const little = view.getUint32(8, true) === BYTE_ORDER;
  const links: { type: number; perSecond: number }[] = [];
  const streams = new Map<string, Stream>();
  const frames: TimedFrame[] = [];
  for (let at = 0; at + 12 <= bytes.length;) {
    const type = view.getUint32(at, little);
    const length = view.getUint32(at + 4, little);
    if (length < 12 || length % 4 || at + length > bytes.length)
      return frames.length ? good(pairFrames(frames)) : bad(`The file ends inside a block at byte ${at}.`);
    if (type === INTERFACE)
      links.push({ type: view.getUint16(at + 8, little), perSecond: resolution(bytes, view, at + 16, at + length - 4, little) });
    if (type === PACKET && length >= 32) {
      const link = links[view.getUint32(at + 8, little)];
      const ticks = (BigInt(view.getUint32(at + 12, little)) << 32n) | BigInt(view.getUint32(at + 16, little));
      const size = Math.min(view.getUint32(at + 20, little), length - 32);
      if (link) follow(bytes.subarray(at + 28, at + 28 + size), link.type, (Number(ticks) * 1000) / link.perSecond, streams, frames);
    }
    if (type === SIMPLE && links[0]) follow(bytes.subarray(at + 12, at + length - 4), links[0].type, null, streams, frames);
    at += length;
  }
  return frames.length ? good(pairFrames(frames)) : bad('No Modbus TCP is in this recording.');
}

/** Ticks a second of an interface: microseconds, unless an option says otherwise (if_tsresol). */
function resolution(bytes: Uint8Array, view: DataView, from: number, to: number, little: boolean): number {
  for (let at = from; at + 4 <= to;) {
    const [code, length] = [view.getUint16(at, little), view.getUint16(at + 2, little)];
    if (code === 0) break;
    if (code === 9 && length === 1) return bytes[at + 4]! & 0x80 ? 2 ** (bytes[at + 4]! & 0x7f) : 10 ** bytes[at + 4]!;
    at += 4 + padded(length);
  }
  return 1_000_000;
}

interface Stream {
  next: number | null;
  rest: Uint8Array;
}

/** Bytes before IPv4 by link type: Ethernet, raw IP, and what Linux captures on all interfaces at once. */
const linkHeads: Record<number, number> = { 1: 14, 101: 0, 228: 0, 113: 16, 276: 20 };

function follow(packet: Uint8Array, link: number, atMs: number | null, streams: Map<string, Stream>, frames: TimedFrame[]): void {
  let head = linkHeads[link];
  if (head === undefined) return;
  while (link === ETHERNET && packet[head - 2] === 0x81 && packet[head - 1] === 0) head += 4;
  const ip = packet.subarray(head);
  if (ip.length < 20 || ip[0]! >>> 4 !== 4 || ip[9] !== 6) return;
  const total = Math.min(ip.length, (ip[2]! << 8) | ip[3]!);
  const tcp = ip.subarray((ip[0]! & 15) * 4, total);
  if (tcp.length < 20) return;
  const number = (at: number) => ((tcp[at]! << 8) | tcp[at + 1]!) >>> 0;
  const data = tcp.subarray((tcp[12]! >>> 4) * 4);
  const [from, to] = [`${address(ip, 12)}:${number(0)}`, `${address(ip, 16)}:${number(2)}`];
  const sequence = (number(4) * 65_536 + number(6)) >>> 0;
  const key = `${from} ${to}`;
  const stream = streams.get(key) ?? { next: null, rest: new Uint8Array() };
  streams.set(key, stream);
  if (tcp[13]! & SYN) Object.assign(stream, { next: (sequence + 1) >>> 0, rest: new Uint8Array() });
  if (data.length === 0) return;
  const seen = stream.next === null ? 0 : (stream.next - sequence) | 0;
  if (seen >= data.length) return;
  // Bytes before these are missing: what was begun cannot be ended.
  if (seen < 0) stream.rest = new Uint8Array();
  stream.next = (sequence + data.length) >>> 0;
  stream.rest = joined([stream.rest, data.subarray(Math.max(0, seen))]);
  stream.rest = cut(stream.rest, (frame) => frames.push({ from, to, atMs, frame }));
}

function address(ip: Uint8Array, at: number): string {
  return ipText((ip[at]! * 16_777_216 + (ip[at + 1]! << 16) + (ip[at + 2]! << 8) + ip[at + 3]!) >>> 0);
}

/** Hands over whole Modbus TCP frames; what is left waits for more. Bytes that are no Modbus TCP are thrown away. */
function cut(bytes: Uint8Array, give: (frame: Uint8Array) => void): Uint8Array {
  let at = 0;
  while (bytes.length - at >= 8) {
    const length = (bytes[at + 4]! << 8) | bytes[at + 5]!;
    if (bytes[at + 2] !== 0 || bytes[at + 3] !== 0 || length < 2 || length > 254) return new Uint8Array();
    if (at + 6 + length > bytes.length) break;
    give(bytes.slice(at, at + 6 + length));
    at += 6 + length;
  }
  return bytes.subarray(at);
}

function padded(length: number): number {
  return (length + 3) & ~3;
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const all = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
