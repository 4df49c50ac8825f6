import { groupOf } from '@plain-envoy/core/failure';
import { createServer, type Server, type Socket } from 'node:net';
import fc from 'fast-check';
import { readRtuFrame, rtuFrame, tcpFrame } from '@plain-envoy/core/codec';
import { characterMs, type SerialSettings, silenceMs } from '@plain-envoy/core/line';
import { TcpFrames, TcpTransport, type Station, VirtualLine } from './index.js';
import { failed, type Exchange } from './transport.js';

const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;

describe('TcpTransport', () => {
  let server: Server;
  let port: number;
  let serve: (socket: Socket, chunk: Buffer) => void;
  let transport: TcpTransport;

  beforeEach(async () => {
    server = createServer((socket) => {
      socket.on('data', (chunk) => serve(socket, chunk));
      socket.on('error', () => undefined);
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    port = (server.address() as { port: number }).port;
    transport = new TcpTransport('127.0.0.1', port);
  });

  afterEach(async () => {
    transport.close();
    await new Promise((done) => server.close(done));
  });

  it('matches answers by transaction id, in whatever order they come', async () => {
    const frames: Buffer[] = [];
    serve = (socket, chunk) => {
      for (let at = 0; at < chunk.length; at += 8) frames.push(chunk.subarray(at, at + 8));
      if (frames.length === 2) for (const frame of frames.reverse()) socket.write(frame);
    };
    const [first, second] = await Promise.all([
      transport.exchange(1, Uint8Array.of(41), 1000),
      transport.exchange(1, Uint8Array.of(42), 1000),
    ]);
    expect(first).toEqual({ kind: 'answer', pdu: jasmine.objectContaining({ 0: 41 }) as never });
    expect(second).toEqual({ kind: 'answer', pdu: jasmine.objectContaining({ 0: 42 }) as never });
  });

  it('ends each question at its own timeout and is not confused by the late answer', async () => {
    let late: (() => void) | null = null;
    serve = (socket, chunk) => {
      if (!late) late = () => socket.write(chunk);
      else socket.write(chunk);
    };
    expect(await transport.exchange(1, Uint8Array.of(41), 30)).toEqual(failed({ code: 'no-answer' }));
    late!();
    expect(await transport.exchange(1, Uint8Array.of(42), 1000)).toEqual({
      kind: 'answer',
      pdu: jasmine.objectContaining({ 0: 42 }) as never,
    });
  });

  it('calls an answer of another unit, and bytes that are no Modbus, corrupt', async () => {
    serve = (socket, chunk) => {
      chunk[6] = 9;
      socket.write(chunk);
    };
    expect(groupOfFailed(await transport.exchange(1, Uint8Array.of(41), 1000))).toBe('damaged');
    serve = (socket) => socket.write('HTTP/1.1 400 Bad Request\r\n');
    expect(groupOfFailed(await transport.exchange(1, Uint8Array.of(41), 1000))).toBe('damaged');
  });

  it('connects again after the connection was lost', async () => {
    serve = (socket) => socket.destroy();
    expect(groupOfFailed(await transport.exchange(1, Uint8Array.of(41), 1000))).toBe('not connected');
    serve = (socket, chunk) => socket.write(chunk);
    expect((await transport.exchange(1, Uint8Array.of(42), 1000)).kind).toBe('answer');
  });

  it('says in words when nobody listens', async () => {
    const nobody = new TcpTransport('127.0.0.1', 1);
    expect(await nobody.exchange(1, Uint8Array.of(41), 1000)).toEqual({
      kind: 'failed',
      failure: { code: 'refused-connection', host: '127.0.0.1', port: 1 },
    });
    nobody.close();
  });
});

function groupOfFailed(exchange: Exchange): string {
  return exchange.kind === 'failed' ? groupOf(exchange.failure) : exchange.kind;
}

describe('TcpFrames', () => {
  it('finds the same frames however the stream is cut', () => {
    const pdus = fc.array(fc.uint8Array({ minLength: 1, maxLength: 40 }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(pdus, fc.integer({ min: 1, max: 17 }), (all, step) => {
        const sent = all.map((pdu, index) => Buffer.from(tcpFrame(index, { unit: 3, pdu })));
        const stream = Buffer.concat(sent);
        const found: string[] = [];
        const frames = new TcpFrames();
        for (let at = 0; at < stream.length; at += step) {
          expect(
            frames.push(stream.subarray(at, at + step), (bytes, from, end) =>
              found.push(Buffer.from(bytes.subarray(from, end)).toString('hex')),
            ),
          ).toBeTrue();
        }
        expect(found).toEqual(sent.map((frame) => frame.toString('hex')));
      }),
    );
  });

  it('does not take half an answer that the beginning of the next fills up for a whole one, wherever it was cut', () => {
    const answer = (transaction: number) =>
      Buffer.from(tcpFrame(transaction, { unit: 3, pdu: Uint8Array.of(3, 12, ...Array.from({ length: 12 }, (_, at) => at + 1)) }));
    for (let cut = 1; cut < answer(1).length; cut++) {
      const found: number[] = [];
      const frames = new TcpFrames();
      const take = (bytes: Buffer, from: number) => found.push(bytes.readUInt16BE(from));
      expect(frames.push(answer(1), take)).toBeTrue();
      expect(frames.push(answer(2).subarray(0, cut), take)).toBeTrue();
      const sound = frames.push(Buffer.concat([answer(3), answer(4)]), take);
      expect(found.slice(0, 1)).toEqual([1]);
      if (sound || found.length > 1) fail(`Cut after ${cut} bytes, ${found.join(', ')} came through.`);
    }
  });

  it('survives any bytes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 600 }), (bytes) => void new TcpFrames().push(Buffer.from(bytes), () => undefined)),
      { numRuns: 2000 },
    );
  });
});

describe('VirtualLine', () => {
  const listener = (set: SerialSettings = settings) => {
    const heard: { frame: Uint8Array; at: number }[] = [];
    const station: Station = { settings: set, hear: (frame) => void heard.push({ frame, at: performance.now() }) };
    return { heard, station };
  };

  it('takes the time of its characters and of the silence between frames', async () => {
    const line = new VirtualLine(settings);
    const a = listener();
    const b = listener();
    line.attach(a.station);
    line.attach(b.station);
    const from = performance.now();
    const frames = 12;
    for (let index = 0; index < frames; index++) await line.send(a.station, new Uint8Array(20));
    const due = frames * 20 * characterMs(settings) + (frames - 1) * silenceMs(settings);
    expect(b.heard.at(-1)!.at - from).toBeGreaterThanOrEqual(due);
    expect(b.heard.length).toBe(frames);
    expect(a.heard.length).toBe(0);
  });

  it('damages what two send at once', async () => {
    const line = new VirtualLine(settings);
    const [a, b, c] = [listener(), listener(), listener()];
    for (const { station } of [a, b, c]) line.attach(station);
    await Promise.all([line.send(a.station, Uint8Array.of(1, 2, 3)), line.send(b.station, Uint8Array.of(1, 2, 3))]);
    expect(c.heard.length).toBe(1);
    expect([...c.heard[0]!.frame]).not.toEqual([1, 2, 3]);
  });

  it('lets a station with other settings hear damage, and one with fewer stop bits everything', async () => {
    const line = new VirtualLine(settings);
    const [a, none, slow, longer] = [
      listener(),
      listener({ ...settings, parity: 'none' }),
      listener({ ...settings, baud: 9600 }),
      listener({ ...settings, stopBits: 2 }),
    ];
    for (const { station } of [a, none, slow, longer]) line.attach(station);
    const frame = rtuFrame({ unit: 12, pdu: Uint8Array.of(3, 0, 0, 0, 1) });
    await line.send(a.station, frame);
    expect(readRtuFrame(none.heard[0]!.frame)).toBeNull();
    expect(readRtuFrame(slow.heard[0]!.frame)).toBeNull();
    expect(readRtuFrame(longer.heard[0]!.frame)?.unit).toBe(12);
  });
});
