import { joined } from '../common/index.js';
import type { FailureCode } from '../failure/index.js';
import { ipNumber } from '../network/index.js';
import { tcpFrame } from '../codec/index.js';
import { foreignOf, foreigns, isModbus } from './foreign/list.js';
import { interfaceBlock, type PacketNote, packetBlock, sectionBlock } from './pcapng-blocks.js';
import { pduOf, type TraceEntry, type TraceRecord } from './record.js';

/** Where a connection of a recording goes. */
export interface Peer {
  ip: string;
  port: number;
  /** The port of the project that is there, where either end may begin. */
  portId?: string;
}

/** Where both ends of a line may begin, each pair of them is an endpoint of its own: by its line, and its place among those on it. */
export function pairOf({ endpointId, unit }: Pick<TraceEntry, 'endpointId' | 'unit'>): string {
  return `${endpointId} ${unit}`;
}

const ETHERNET = 1;
/** What has packets of a form of its own. */
const ownForms = Object.entries(foreigns).flatMap(([framing, { linkType }]) => (linkType === null ? [] : [[framing, linkType] as const]));
const [FIN, SYN, RESET, PUSH, ACK] = [1, 2, 4, 8, 16];
const OWN_PORT = 50_000;
const OWN_PORTS = 15_000;

/**
 * Exchanges as a pcapng file that packet analysers open (IETF draft-ietf-opsawg-pcapng): one Ethernet interface, one TCP
 * connection for each endpoint, opened with its handshake, and closed where it was: then the next follows. `peerOf` says where an endpoint is; records without times follow
 * each other by the millisecond. What went over a serial line stands as the same questions over TCP; damaged answers of one are
 * left out, as they have no such form. What is not Modbus is on an interface of its kind, a packet each with what `tell` says of it.
 */
export function writePcapng(records: readonly TraceEntry[], peerOf: PeerOf, tell?: TellEntry): Uint8Array {
  const writer = new PcapngWriter(peerOf, tell);
  return joined([writer.begin(), writer.add(records)]);
}

type PeerOf = (endpointId: string) => Peer | null;
type TellEntry = (entry: TraceEntry) => { sentence: string };

/** The same piece by piece, for a file that grows: `begin` once, then `add` as exchanges come. */
export class PcapngWriter {
  private readonly connections = new Map<string, Connection>();
  private opened = 0;
  private clock = 0;

  constructor(
    private readonly peerOf: PeerOf,
    private readonly tell?: TellEntry,
  ) {}

  begin(): Uint8Array {
    return joined([sectionBlock(), interfaceBlock(ETHERNET), ...ownForms.map(([, linkType]) => interfaceBlock(linkType))]);
  }

  /** These exchanges, in the order of their times. */
  add(records: readonly TraceEntry[]): Uint8Array {
    const packets = records.flatMap((record) => this.packetsOf(record)).sort((a, b) => a.atMs - b.atMs);
    return joined(packets.flatMap((packet) => this.blocksOf(packet)));
  }

  private blocksOf({ atMs, endpointId, isAnswer, frame, note }: Packet): Uint8Array[] {
    if (note) return frame ? [packetBlock(atMs, frame, note)] : [];
    if (!frame) return this.close(endpointId, atMs, isAnswer);
    const { connection, handshake } = this.connectionTo(endpointId, atMs);
    return connection ? [...handshake, packetBlock(atMs, segment(connection, isAnswer, PUSH | ACK, frame))] : [];
  }

  private packetsOf(record: TraceEntry): Packet[] {
    this.clock += 1;
    const { endpointId } = record;
    const atMs = record.atMs ?? this.clock;
    if (!isModbus(record) && foreignOf(record)?.linkType === null) {
      const pair = pairOf(record);
      const isAnswer = record.requestId !== null && record.requestId === this.peerOf(pair)?.portId;
      return record.end === 'arrived' ? [{ atMs, endpointId: pair, isAnswer, frame: record.sent }] : [];
    }
    if (!isModbus(record)) {
      const note = { on: 1 + ownForms.findIndex(([framing]) => framing === record.framing), comment: this.tell?.(record).sentence ?? '' };
      return [{ atMs, endpointId, isAnswer: false, frame: record.got ?? record.sent, note }];
    }
    const endMs = atMs + (record.sent ? (record.ms ?? 0.5) : 0);
    const [sent, got] = [overTcp(record, record.sent), overTcp(record, record.got)];
    const by = record.failure && record.framing === 'tcp' ? endedBy[record.failure.code] : undefined;
    return [
      ...(sent ? [{ atMs, endpointId, isAnswer: false, frame: sent }] : []),
      ...(got ? [{ atMs: endMs, endpointId, isAnswer: true, frame: got }] : []),
      ...(by ? [{ atMs: endMs, endpointId, isAnswer: by === 'peer', frame: null }] : []),
    ];
  }

  /** What comes after it is on a new connection, so that nothing is glued to an answer that broke off. */
  private close(endpointId: string, atMs: number, byPeer: boolean): Uint8Array[] {
    const connection = this.connections.get(endpointId);
    if (!connection) return [];
    this.connections.delete(endpointId);
    return [packetBlock(atMs, segment(connection, byPeer, byPeer ? FIN | ACK : RESET | ACK, new Uint8Array()))];
  }

  /** The connection to an endpoint, and the packets that open it where it is new. */
  private connectionTo(endpointId: string, atMs: number): { connection: Connection | null; handshake: Uint8Array[] } {
    const known = this.connections.get(endpointId);
    if (known) return { connection: known, handshake: [] };
    const peer = this.peerOf(endpointId);
    if (!peer) return { connection: null, handshake: [] };
    const ownPort = OWN_PORT + (this.opened % OWN_PORTS);
    this.opened += 1;
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

/** What leaves or comes at a time; `frame` is null where the connection ends, by the peer where `isAnswer`. */
interface Packet {
  atMs: number;
  endpointId: string;
  isAnswer: boolean;
  frame: Uint8Array | null;
  /** Of what stands as it is, and not as a TCP connection. */
  note?: PacketNote;
}

/** After which failures there is another connection, and who ended the one before. */
const endedBy: Partial<Record<FailureCode, 'peer' | 'us'>> = {
  'closed-by-peer': 'peer',
  broken: 'peer',
  closed: 'us',
  'half-answer': 'us',
  'not-modbus-tcp': 'us',
};

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
  return ip.replace(/\d{1,3}$/, String(host === 250 ? 251 : 250));
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
  view.setUint32(42, flags & ACK ? sequence[theirs] : 0);
  view.setUint8(46, 0x50);
  view.setUint8(47, flags);
  view.setUint16(48, 64_240);
  bytes.set(data, 54);
  const pseudo =
    (ipNumber(from)! >>> 16) + (ipNumber(from)! & 0xffff) + (ipNumber(to)! >>> 16) + (ipNumber(to)! & 0xffff) + 6 + 20 + data.length;
  view.setUint16(50, checksum(bytes.subarray(34), pseudo));
  sequence[mine] = (sequence[mine] + data.length + (flags & (SYN | FIN) ? 1 : 0)) >>> 0;
  return bytes;
}

/** The Internet checksum (RFC 1071). */
function checksum(bytes: Uint8Array, start: number): number {
  let sum = start;
  for (let at = 0; at < bytes.length; at += 2) sum += (bytes[at]! << 8) | (bytes[at + 1] ?? 0);
  while (sum > 0xffff) sum = (sum & 0xffff) + (sum >>> 16);
  return ~sum & 0xffff;
}
