import { createServer, type Server, type Socket } from 'node:net';
import { tcpFrame } from '@plain-envoy/core/codec';
import { TcpFrames } from './tcp-frames.js';
import { TcpTransport } from './tcp.js';
import type { Exchange, Frames } from './transport.js';

const question = Uint8Array.of(3, 0, 0, 0, 1);
const answer = Uint8Array.of(3, 2, 0x12, 0x34);

describe('what comes back over Modbus TCP', () => {
  let server: Server;
  let port: number;
  let sockets: Socket[];
  /** What the far side has got, frame by frame, and what it does with each. */
  let got: Buffer[];
  let serve: (socket: Socket, frame: Buffer) => void;
  let transport: TcpTransport;

  const transactionOf = (frame: Buffer) => frame.readUInt16BE(0);
  const reply = (frame: Buffer, unit = frame[6]!, pdu = answer) => tcpFrame(transactionOf(frame), { unit, pdu });
  const told = (exchange: Exchange) => (exchange.kind === 'failed' ? exchange.failure : [...exchange.pdu]);
  const ask = async (timeoutMs = 2000, frames?: Frames, unit = 9) => told(await transport.exchange(unit, question, timeoutMs, frames));

  beforeEach(async () => {
    [sockets, got] = [[], []];
    serve = (socket, frame) => socket.write(reply(frame));
    server = createServer((socket) => {
      sockets.push(socket);
      const frames = new TcpFrames();
      socket.on('error', () => undefined);
      socket.on('data', (chunk) => {
        frames.push(chunk, (bytes, from, end) => {
          const frame = Buffer.from(bytes.subarray(from, end));
          got.push(frame);
          serve(socket, frame);
        });
      });
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    port = (server.address() as { port: number }).port;
    transport = new TcpTransport('127.0.0.1', port);
  });
  afterEach(async () => {
    transport.close();
    for (const socket of sockets) socket.destroy();
    await new Promise((done) => server.close(done));
  });

  it('is the PDU of the answer, and the whole frames for whoever wants to see them', async () => {
    const frames: Frames = { sent: null, got: null };
    expect(await ask(2000, frames)).toEqual([...answer]);
    expect([...frames.sent!]).toEqual([...got[0]!]);
    expect([...frames.got!]).toEqual([...reply(got[0]!)]);
    expect([...got[0]!]).toEqual([...tcpFrame(1, { unit: 9, pdu: question })]);
  });

  it('uses one connection for everything, with another transaction each time', async () => {
    for (let count = 0; count < 3; count++) await ask();
    const together = await Promise.all(Array.from({ length: 10 }, () => ask()));
    expect(together).toEqual(Array(10).fill([...answer]));
    expect(sockets.length).toBe(1);
    expect(got.map(transactionOf)).toEqual(Array.from({ length: 13 }, (_, index) => index + 1));
  });

  it('leaves out a transaction that is still open when the numbers come round', async () => {
    let first: Buffer | null = null;
    serve = (socket, frame) => {
      if (first) socket.write(reply(frame));
      else first = frame;
    };
    const open = ask(60_000);
    while (!first) await new Promise((done) => setImmediate(done));
    (transport as unknown as { transaction: number }).transaction = 0xffff;
    await ask();
    await ask();
    expect(got.slice(1).map(transactionOf)).toEqual([0, 2]);
    sockets[0]!.write(reply(first));
    expect(await open).toEqual([...answer]);
  });

  it('is refused where another unit answers', async () => {
    serve = (socket, frame) => socket.write(reply(frame, 7));
    expect(await ask()).toEqual({ code: 'wrong-unit', asked: 9, got: 7 });
  });

  it('is told as one with a number that was never asked, where no other comes', async () => {
    const numbered = (frame: Buffer, transaction: number) => {
      const other = Buffer.from(reply(frame));
      other.writeUInt16BE(transaction, 0);
      return other;
    };
    serve = (socket, frame) => socket.write(numbered(frame, 900));
    expect(await ask(40)).toEqual({ code: 'wrong-transaction', asked: 1, got: 900 });
    serve = (socket, frame) => {
      socket.write(numbered(frame, 900));
      socket.write(reply(frame));
    };
    expect(await ask())
      .withContext('it is waited on for the right one')
      .toEqual([...answer]);
  });

  it('is called late where nobody waits for it any more', async () => {
    const strays: number[][] = [];
    const times: (number | null)[] = [];
    transport.onStray = (frame, afterMs) => {
      strays.push([...frame]);
      times.push(afterMs);
    };
    let late: Buffer | null = null;
    serve = (_socket, frame) => void (late = frame);
    expect(await ask(20)).toEqual({ code: 'no-answer' });
    serve = (socket, frame) => {
      socket.write(reply(late!));
      socket.write(reply(frame));
    };
    expect(await ask()).toEqual([...answer]);
    expect(strays).toEqual([[...reply(late!)]]);
    expect(times[0]).toBeGreaterThanOrEqual(20);
  });

  it('is half an answer where it began and did not end, and the connection is made anew after it', async () => {
    const frames: Frames = { sent: null, got: null };
    serve = (socket, frame) => socket.write(reply(frame).subarray(0, 8));
    expect(await ask(40, frames)).toEqual({ code: 'half-answer', bytes: 8, of: 11 });
    expect(frames.got?.length).toBe(8);
    serve = (socket, frame) => socket.write(reply(frame).subarray(0, 3));
    expect(await ask(40)).toEqual({ code: 'half-answer', bytes: 3, of: null });
    serve = (socket, frame) => socket.write(reply(frame));
    expect(await ask()).toEqual([...answer]);
    expect(sockets.length).toBe(3);
  });

  it('is half an answer as well where the connection breaks in the middle', async () => {
    serve = (socket, frame) => socket.end(reply(frame).subarray(0, 9));
    expect(await ask()).toEqual({ code: 'half-answer', bytes: 9, of: 11 });
    serve = (socket) => socket.end();
    expect(await ask()).toEqual({ code: 'closed-by-peer', host: '127.0.0.1', port });
  });

  it('is no half answer of a question that nothing has come to', async () => {
    serve = (socket, frame) => {
      if (got.length === 2) socket.end(reply(frame).subarray(0, 9));
    };
    const ended = await Promise.all([ask(), ask()]);
    expect(ended).toEqual([
      { code: 'closed-by-peer', host: '127.0.0.1', port },
      { code: 'half-answer', bytes: 9, of: 11 },
    ]);
  });

  it('ends all that is open where bytes are no Modbus TCP', async () => {
    serve = (socket) => socket.write('HTTP/1.1 400 Bad Request\r\n');
    expect(await Promise.all([ask(), ask()])).toEqual(Array(2).fill({ code: 'not-modbus-tcp' }));
  });

  it('is asked for on a new connection after six questions in a row that brought nothing', async () => {
    serve = () => undefined;
    for (let count = 0; count < 6; count++) {
      expect(sockets.length).toBeLessThan(2);
      await ask(5);
    }
    serve = (socket, frame) => socket.write(reply(frame));
    expect(await ask()).toEqual([...answer]);
    expect(sockets.length).toBe(2);
  });

  it('keeps the connection where an answer comes in between', async () => {
    for (let count = 1; count <= 12; count++) {
      serve = (socket, frame) => (count % 5 === 0 ? socket.write(reply(frame)) : undefined);
      await ask(5);
    }
    expect(sockets.length).toBe(1);
  });

  it('ends as closed where it is closed by us, before and after', async () => {
    serve = () => undefined;
    const open = ask(60_000);
    while (got.length === 0) await new Promise((done) => setImmediate(done));
    transport.close();
    expect(await open).toEqual({ code: 'closed' });
    expect(await ask()).toEqual({ code: 'closed' });
    expect(sockets.length).toBe(1);
  });

  it('ends as closed where it is closed while it connects', async () => {
    const open = ask();
    transport.close();
    expect(await open).toEqual({ code: 'closed' });
  });

  it('is waited for on one connection, however many ask before it is there', async () => {
    const all = await Promise.all([ask(2000, undefined, 1), ask(2000, undefined, 2), ask(2000, undefined, 3)]);
    expect(all).toEqual(Array(3).fill([...answer]));
    expect([sockets.length, got.map((frame) => frame[6])]).toEqual([1, [1, 2, 3]]);
  });
});

describe('a TCP stream', () => {
  const push = (...chunks: number[][]) => {
    const frames = new TcpFrames();
    const found: string[] = [];
    const sound = chunks.map((chunk) =>
      frames.push(Buffer.from(chunk), (bytes, from, end) => void found.push(bytes.subarray(from, end).toString('hex'))),
    );
    return { sound, found, begun: frames.begun()?.length ?? 0 };
  };

  it('is no Modbus where a header says so, as soon as it does', () => {
    expect(push([0, 1, 0, 0, 0, 2, 9, 3])).toEqual({ sound: [true], found: ['0001000000020903'], begun: 0 });
    expect(push([0, 1, 1]).sound).toEqual([false]);
    expect(push([0, 1, 0, 1]).sound).toEqual([false]);
    expect(push([0, 1, 0, 0, 0, 1]).sound).toEqual([false]);
    expect(push([0, 1, 0, 0, 0, 255]).sound).toEqual([false]);
    expect(push([0, 1, 0, 0, 1, 2]).sound).toEqual([false]);
    expect(push([0, 1, 0, 0, 0, 254])).toEqual({ sound: [true], found: [], begun: 6 });
    expect(push([0, 1], [0, 0, 0], [2, 9, 3, 0])).toEqual({ sound: [true, true, true], found: ['0001000000020903'], begun: 1 });
  });
});
