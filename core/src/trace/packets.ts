import ipaddr from 'ipaddr.js';
import { joined } from '../common/index.js';
import type { TimedFrame } from './pair.js';

const [SYN, TCP] = [2, 6];
const ETHERNET = 1;

/** Bytes before the IP packet by link type: Ethernet, raw IP, and what Linux captures on all interfaces at once. */
const linkHeads: Readonly<Record<number, number>> = { 0: 4, 1: 14, 12: 0, 14: 0, 101: 0, 108: 4, 113: 16, 228: 0, 229: 0, 276: 20 };

interface Stream {
  next: number | null;
  rest: Uint8Array;
}

/** Puts the packets of a recording together again: follows each direction of each TCP connection, and cuts Modbus TCP frames out of it. */
export class Packets {
  readonly frames: TimedFrame[] = [];
  private readonly streams = new Map<string, Stream>();

  /** A captured packet: its bytes, the link type of its interface, and when it was seen, ms since 1970 where that is known. */
  add(packet: Uint8Array, link: number, atMs: number | null): void {
    let head = linkHeads[link];
    if (head === undefined) return;
    while (
      link === ETHERNET &&
      ((packet[head - 2] === 0x81 && packet[head - 1] === 0) || (packet[head - 2] === 0x88 && packet[head - 1] === 0xa8))
    )
      head += 4;
    const ip = packet.subarray(head);
    const segment = ip[0]! >>> 4 === 4 ? inIpv4(ip) : ip[0]! >>> 4 === 6 ? inIpv6(ip) : null;
    if (segment && segment.tcp.length >= 20) this.follow(segment, atMs);
  }

  private follow({ from: source, to: target, tcp }: Segment, atMs: number | null): void {
    const number = (at: number) => ((tcp[at]! << 8) | tcp[at + 1]!) >>> 0;
    const data = tcp.subarray((tcp[12]! >>> 4) * 4);
    const [from, to] = [`${source}:${number(0)}`, `${target}:${number(2)}`];
    const sequence = (number(4) * 65_536 + number(6)) >>> 0;
    const key = `${from} ${to}`;
    const stream = this.streams.get(key) ?? { next: null, rest: new Uint8Array() };
    this.streams.set(key, stream);
    if (tcp[13]! & SYN) Object.assign(stream, { next: (sequence + 1) >>> 0, rest: new Uint8Array() });
    if (data.length === 0) return;
    const seen = stream.next === null ? 0 : (stream.next - sequence) | 0;
    if (seen >= data.length) return;
    // Bytes before these are missing: what was begun cannot be ended.
    if (seen < 0) stream.rest = new Uint8Array();
    stream.next = (sequence + data.length) >>> 0;
    stream.rest = joined([stream.rest, data.subarray(Math.max(0, seen))]);
    stream.rest = cut(stream.rest, (frame) => this.frames.push({ from, to, atMs, frame }));
  }
}

interface Segment {
  from: string;
  to: string;
  tcp: Uint8Array;
}

/** RFC 791. */
function inIpv4(ip: Uint8Array): Segment | null {
  if (ip.length < 20 || ip[9] !== TCP) return null;
  const total = Math.min(ip.length, (ip[2]! << 8) | ip[3]!);
  const address = (at: number) => ip.subarray(at, at + 4).join('.');
  return { from: address(12), to: address(16), tcp: ip.subarray((ip[0]! & 15) * 4, total) };
}

/** Headers between that of IPv6 and TCP which say their own length in units of eight bytes (RFC 8200, 4). */
const EXTENSIONS: ReadonlySet<number> = new Set([0, 43, 60]);

/** RFC 8200. */
function inIpv6(ip: Uint8Array): Segment | null {
  if (ip.length < 40) return null;
  const end = Math.min(ip.length, 40 + ((ip[4]! << 8) | ip[5]!));
  let [next, at] = [ip[6]!, 40];
  while (EXTENSIONS.has(next) && at + 8 <= end) [next, at] = [ip[at]!, at + 8 * (ip[at + 1]! + 1)];
  if (next !== TCP || at > end) return null;
  const address = (from: number) => `[${ipaddr.fromByteArray([...ip.subarray(from, from + 16)]).toString()}]`;
  return { from: address(8), to: address(24), tcp: ip.subarray(at, end) };
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
