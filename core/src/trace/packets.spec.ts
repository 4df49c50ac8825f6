import { tcpFrame } from '../codec/index.js';
import { requestPdu } from '../frame/index.js';
import { readPackets, type TraceRecord, writePcapng } from './index.js';

const asked = tcpFrame(7, { unit: 21, pdu: requestPdu({ functionCode: 4, offset: 10, count: 1 }) });
const answer = tcpFrame(7, { unit: 21, pdu: Uint8Array.of(4, 2, 0x12, 0x34) });
const AT_MS = 1_700_000_000_000;

const bytesOf = (...parts: readonly (Uint8Array | readonly number[])[]) => Uint8Array.from(parts.flatMap((part) => [...part]));
const word = (value: number) => [value >>> 8, value & 0xff];
const wide = (value: number, little = false) => {
  const bytes = [value >>> 24, (value >>> 16) & 0xff, (value >>> 8) & 0xff, value & 0xff];
  return little ? bytes.reverse() : bytes;
};

/** A TCP segment on its way to port 502, or back. */
function tcp(data: Uint8Array, isAnswer: boolean): Uint8Array {
  const ports = isAnswer ? [...word(502), ...word(50_000)] : [...word(50_000), ...word(502)];
  return bytesOf(ports, wide(100), wide(0), [0x50, 0x18], word(1024), word(0), word(0), data);
}

function ipv4(data: Uint8Array, isAnswer: boolean): Uint8Array {
  const [from, to] = isAnswer
    ? [
        [10, 40, 8, 30],
        [10, 40, 8, 250],
      ]
    : [
        [10, 40, 8, 250],
        [10, 40, 8, 30],
      ];
  const segment = tcp(data, isAnswer);
  return bytesOf([0x45, 0], word(20 + segment.length), wide(0), [64, 6, 0, 0], from!, to!, segment);
}

function ipv6(data: Uint8Array, isAnswer: boolean, extension: number[] = []): Uint8Array {
  const address = (last: number) => [0xfd, ...new Array<number>(14).fill(0), last];
  const segment = bytesOf(extension, tcp(data, isAnswer));
  const ends = isAnswer ? [address(2), address(1)] : [address(1), address(2)];
  return bytesOf([0x60, 0, 0, 0], word(segment.length), [extension.length ? 0 : 6, 64], ends[0]!, ends[1]!, segment);
}

const ethernet = (type: number[], packet: Uint8Array) => bytesOf(new Array<number>(12).fill(2), type, packet);

/** A classic file of a question and, 20 ms later, its answer. */
function classic(magic: number, link: number, packets: readonly Uint8Array[], little: boolean, perSecond: number): Uint8Array {
  const number = (value: number) => wide(value, little);
  const head = bytesOf(wide(magic), little ? [2, 0, 4, 0] : [0, 2, 0, 4], number(0), number(0), number(65_535), number(link));
  const records = packets.map((packet, index) =>
    bytesOf(number(AT_MS / 1000), number((perSecond / 1000) * 20 * index), number(packet.length), number(packet.length), packet),
  );
  return bytesOf(head, ...records);
}

function exchanges(file: Uint8Array): unknown[] {
  const read = readPackets(file);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value.map(({ sent, got, atMs, ms, end, endpointId }) => ({ sent, got, atMs, ms, end, endpointId }));
}
const whole = (endpointId: string) => [{ sent: asked, got: answer, atMs: AT_MS, ms: 20, end: 'answered', endpointId }];

describe('a file of a packet analyser', () => {
  const both = (around: (data: Uint8Array, isAnswer: boolean) => Uint8Array) => [around(asked, false), around(answer, true)];

  it('may be of the classic form, in either order of bytes and with either clock', () => {
    for (const [magic, little, perSecond] of [
      [0xa1b2c3d4, false, 1e6],
      [0xd4c3b2a1, true, 1e6],
      [0xa1b23c4d, false, 1e9],
      [0x4d3cb2a1, true, 1e9],
    ] as const)
      expect(exchanges(classic(magic, 101, both(ipv4), little, perSecond)))
        .withContext(magic.toString(16))
        .toEqual(whole('10.40.8.30:502'));
  });

  it('may be of any usual link: Ethernet, with one VLAN or two, cooked, raw and loopback', () => {
    const links: [number, (packet: Uint8Array) => Uint8Array][] = [
      [1, (packet) => ethernet([8, 0], packet)],
      [1, (packet) => ethernet([0x81, 0, 0, 5, 8, 0], packet)],
      [1, (packet) => ethernet([0x88, 0xa8, 0, 5, 0x81, 0, 0, 6, 8, 0], packet)],
      [113, (packet) => bytesOf(new Array<number>(14).fill(0), [8, 0], packet)],
      [276, (packet) => bytesOf([8, 0], new Array<number>(18).fill(0), packet)],
      [228, (packet) => packet],
      [0, (packet) => bytesOf([2, 0, 0, 0], packet)],
    ];
    for (const [link, around] of links)
      expect(exchanges(classic(0xd4c3b2a1, link, both(ipv4).map(around), true, 1e6)))
        .withContext(`link ${link}`)
        .toEqual(whole('10.40.8.30:502'));
    const other = readPackets(classic(0xd4c3b2a1, 147, both(ipv4), true, 1e6));
    expect(other.ok ? null : other.problem.message).toBe('No Modbus TCP is in this recording.');
  });

  it('may be of IPv6, with headers in between', () => {
    expect(exchanges(classic(0xd4c3b2a1, 101, both(ipv6), true, 1e6))).toEqual(whole('[fd00::2]:502'));
    const stretched = both((data, isAnswer) => ipv6(data, isAnswer, [6, 0, 1, 4, 0, 0, 0, 0]));
    expect(exchanges(classic(0xd4c3b2a1, 229, stretched, true, 1e6))).toEqual(whole('[fd00::2]:502'));
  });

  it('says where it breaks off, and gives what came before', () => {
    const file = classic(0xa1b2c3d4, 101, both(ipv4), false, 1e6);
    expect(exchanges(file.subarray(0, file.length - 3))).toEqual([jasmine.objectContaining({ end: 'silent' })]);
    const first = readPackets(file.subarray(0, 60));
    expect(first.ok ? null : first.problem.message).toBe('The file ends inside a block at byte 24.');
  });

  it('may have several sections, each with an order of bytes and a clock of its own', () => {
    const block = (type: number, body: Uint8Array, little: boolean) => {
      const padding = new Array<number>((4 - (body.length % 4)) % 4).fill(0);
      const length = 12 + body.length + padding.length;
      return bytesOf(wide(type, little), wide(length, little), body, padding, wide(length, little));
    };
    const section = (little: boolean, resolution: number, ticks: number, packet: Uint8Array) => {
      const short = (value: number) => (little ? word(value).reverse() : word(value));
      const [high, low] = [Math.floor(ticks / 2 ** 32), ticks % 2 ** 32];
      return bytesOf(
        block(0x0a0d0d0a, bytesOf(wide(0x1a2b3c4d, little), short(1), short(0), wide(0), wide(0)), little),
        block(1, bytesOf(short(101), short(0), wide(0), short(9), short(1), [resolution, 0, 0, 0], short(0), short(0)), little),
        block(
          6,
          bytesOf(wide(0), wide(high, little), wide(low, little), wide(packet.length, little), wide(packet.length, little), packet),
          little,
        ),
      );
    };
    const file = bytesOf(section(true, 6, AT_MS * 1000, ipv4(asked, false)), section(false, 3, AT_MS + 20, ipv4(answer, true)));
    expect(exchanges(file)).toEqual(whole('10.40.8.30:502'));
  });
});

describe('exchanges written for a packet analyser', () => {
  const record = (fields: Partial<TraceRecord>): TraceRecord => ({
    ...{ number: 1, atMs: AT_MS, endpointId: 'gateway', requestId: null, framing: 'tcp', unit: 21, functionCode: 4 },
    ...{ sent: asked, got: answer, end: 'answered', ms: 20, failure: null },
    ...fields,
  });
  const flagsOf = (file: Uint8Array) => {
    const view = new DataView(file.buffer);
    const flags: string[] = [];
    for (let at = 0; at < file.length; at += view.getUint32(at + 4, true))
      if (view.getUint32(at, true) === 6) flags.push(`${view.getUint16(at + 28 + 34)} ${file[at + 28 + 47]}`);
    return flags;
  };

  it('end a connection where it ended, and go on on another: nothing is glued to half an answer', () => {
    const broken = record({ got: answer.subarray(0, 9), end: 'damaged', failure: { code: 'half-answer', bytes: 9, of: 11 } });
    const next = record({ number: 2, atMs: AT_MS + 500 });
    const file = writePcapng([broken, next], () => ({ ip: '10.40.8.30', port: 502 }));
    expect(exchanges(file)).toEqual([
      jasmine.objectContaining({ sent: asked, got: null, end: 'silent' }),
      jasmine.objectContaining({ sent: asked, got: answer, end: 'answered', atMs: AT_MS + 500 }),
    ]);
    const [reset, open] = [20, 2];
    expect(flagsOf(file)).toEqual(
      [
        [50_000, open],
        [502, 18],
        [50_000, 16],
        [50_000, 24],
        [502, 24],
        [50_000, reset],
        [50_001, open],
        [502, 18],
        [50_001, 16],
        [50_001, 24],
        [502, 24],
      ].map(([port, flags]) => `${port} ${flags}`),
    );
  });

  it('say who ended it: the far end, where it closed the connection', () => {
    const closed = record({ got: null, end: 'not connected', failure: { code: 'closed-by-peer', host: '10.40.8.30', port: 502 } });
    const file = writePcapng([record({}), { ...closed, number: 2, atMs: AT_MS + 100 }], () => ({ ip: '10.40.8.30', port: 502 }));
    expect(flagsOf(file).at(-1)).toBe('502 17');
    expect(exchanges(file).length).toBe(2);
  });
});
