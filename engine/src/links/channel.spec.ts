import type { Failure } from '@plain-envoy/core/failure';
import { FailureError } from '@plain-envoy/core/failure';
import { createServer, type Server, type Socket } from 'node:net';
import { cable } from '../cable.spec-helper.js';
import { type Channel, connectFailure, CONNECT_TIMEOUT_MS, listSerialPorts, openSerialPort, openSocket } from './channel.js';

const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;

async function failureOf(opening: Promise<Channel>): Promise<Failure | null> {
  try {
    (await opening).close();
    return null;
  } catch (error) {
    return error instanceof FailureError ? error.failure : null;
  }
}

describe('a connection that was not made', () => {
  it('is a fact, by what the system says of it', () => {
    const of = (code: string) => connectFailure(Object.assign(new Error('so it is'), { code }), '10.40.8.9', 502);
    const where = { host: '10.40.8.9', port: 502 };
    expect(of('ECONNREFUSED')).toEqual({ code: 'refused-connection', ...where });
    expect(of('EHOSTUNREACH')).toEqual({ code: 'unreachable', ...where });
    expect(of('ENETUNREACH')).toEqual({ code: 'unreachable', ...where });
    expect(of('ECONNRESET')).toEqual({ code: 'closed-at-once', ...where });
    expect(of('ENOTFOUND')).toEqual({ code: 'connect-failed', ...where, detail: 'so it is' });
  });
});

describe('a socket as a channel', () => {
  let server: Server;
  let sockets: Socket[];
  let port: number;

  beforeEach(async () => {
    sockets = [];
    server = createServer((socket) => {
      sockets.push(socket);
      socket.on('error', () => undefined);
      socket.on('data', (chunk) => socket.write(chunk));
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    port = (server.address() as { port: number }).port;
  });
  afterEach(async () => {
    for (const socket of sockets) socket.destroy();
    await new Promise((done) => server.close(done));
  });

  it('carries bytes both ways, and tells the end once', async () => {
    const channel = await openSocket('127.0.0.1', port);
    const ends: Failure[] = [];
    const came = new Promise<string>((done) =>
      channel.listen(
        (bytes) => done(Buffer.from(bytes).toString()),
        (end) => ends.push(end),
      ),
    );
    await channel.write(Buffer.from('malt'));
    expect(await came).toBe('malt');
    sockets[0]!.destroy();
    while (ends.length === 0) await new Promise((done) => setImmediate(done));
    expect(ends).toEqual([{ code: 'closed' }]);
    await channel.write(Buffer.from('nobody hears it'));
    channel.close();
  });

  it('tells at once that it has ended where it had before anybody listened', async () => {
    const channel = await openSocket('127.0.0.1', port);
    channel.close();
    const end = await new Promise<Failure>((done) => channel.listen(() => undefined, done));
    expect(end).toEqual({ code: 'closed' });
  });

  it('is not opened where nobody listens', async () => {
    expect(await failureOf(openSocket('127.0.0.1', 1))).toEqual({ code: 'refused-connection', host: '127.0.0.1', port: 1 });
    expect(CONNECT_TIMEOUT_MS).toBe(3000);
  });
});

describe('a serial port of this machine', () => {
  it('that is not there is said to be so, with how it was to be opened', async () => {
    const failure = await failureOf(openSerialPort('/dev/tty-not-there', settings));
    expect(failure?.code).toBe('own-port');
    expect((failure as Extract<Failure, { code: 'own-port' }>).detail).toMatch(
      /^\/dev\/tty-not-there cannot be opened at 19200 8E1: .*\.$/,
    );
  });

  it('carries bytes both ways, and says when it was closed', async () => {
    const { a, b, cut } = await cable();
    const near = await openSerialPort(a, settings);
    const far = await openSerialPort(b, settings);
    const ends: Failure[] = [];
    const came = new Promise<string>((done) =>
      near.listen(
        (bytes) => done(Buffer.from(bytes).toString()),
        (end) => ends.push(end),
      ),
    );
    await far.write(Buffer.from('malt'));
    expect(await came).toBe('malt');
    near.close();
    near.close();
    while (ends.length === 0) await new Promise((done) => setTimeout(done, 5));
    expect(ends).toEqual([{ code: 'own-port', detail: `${a} was closed.` }]);
    far.close();
    await cut();
  });

  it('is listed by its path', async () => {
    for (const { path, about } of await listSerialPorts()) expect([path.startsWith('/dev/'), typeof about]).toEqual([true, 'string']);
  });
});
