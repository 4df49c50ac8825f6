import { createServer, type Server, type Socket } from 'node:net';
import { TcpTransport } from './index.js';
import type { Exchange } from './transport.js';

const question = Uint8Array.of(3, 0, 0, 0, 1);

/** Time stands still here unless a test moves it. */
describe('TcpTransport and time', () => {
  let nowMs: number;
  let server: Server;
  let port: number;
  let sockets: Socket[];
  let received: number;
  let transport: TcpTransport;

  const listen = () => new Promise<void>((done) => server.listen(port, '127.0.0.1', done));
  const stopListening = () => new Promise((done) => server.close(done));
  const code = (exchange: Exchange) => (exchange.kind === 'failed' ? exchange.failure.code : exchange.kind);

  beforeEach(async () => {
    nowMs = 5000;
    spyOn(performance, 'now').and.callFake(() => nowMs);
    [port, sockets, received] = [0, [], 0];
    server = createServer((socket) => {
      sockets.push(socket);
      socket.on('error', () => undefined);
      socket.on('data', () => (received += 1));
    });
    await listen();
    port = (server.address() as { port: number }).port;
    transport = new TcpTransport('127.0.0.1', port);
  });

  afterEach(async () => {
    transport.close();
    for (const socket of sockets) socket.destroy();
    await stopListening();
  });

  it('waits longer after each refusal before it connects again, and says meanwhile what it was refused with', async () => {
    await stopListening();
    expect(code(await transport.exchange(1, question, 1000))).toBe('refused-connection');
    for (const pauseMs of [200, 400, 800, 1600, 3200, 5000, 5000]) {
      nowMs += pauseMs - 1;
      await listen();
      expect(code(await transport.exchange(1, question, 1000))).toBe('refused-connection');
      expect(sockets.length).withContext(`${pauseMs} ms after a refusal, less one`).toBe(0);
      await stopListening();
      nowMs += 1;
      expect(code(await transport.exchange(1, question, 1000))).toBe('refused-connection');
    }
    nowMs += 5000;
    await listen();
    server.once('connection', (socket: Socket) => socket.on('data', (chunk) => socket.write(chunk)));
    expect(code(await transport.exchange(1, question, 1000))).toBe('answer');
    expect(sockets.length).toBe(1);
  });

  it('begins with the short pause again, once it was connected', async () => {
    await stopListening();
    await transport.exchange(1, question, 1000);
    nowMs += 200;
    await transport.exchange(1, question, 1000);
    nowMs += 400;
    await listen();
    const ended = transport.exchange(1, question, 1000);
    await heard();
    sockets[0]!.destroy();
    expect(code(await ended)).toBe('closed-by-peer');
    await stopListening();
    expect(code(await transport.exchange(1, question, 1000))).toBe('refused-connection');
    nowMs += 200;
    await listen();
    void transport.exchange(1, question, 1000);
    await heard(2);
    expect(sockets.length).toBe(2);
  });

  describe('with a clock that is wound by hand', () => {
    beforeEach(() => jasmine.clock().install());
    afterEach(() => jasmine.clock().uninstall());

    for (const timeoutMs of [60, 1000])
      it(`ends a question that nobody answers after ${timeoutMs} ms, not before and not later`, async () => {
        let end: Exchange | null = null;
        void transport.exchange(1, question, timeoutMs).then((exchange) => (end = exchange));
        await heard();
        wind(timeoutMs - 1);
        await turn();
        expect(end).toBeNull();
        wind(1);
        await turn();
        expect(end).toEqual({ kind: 'failed', failure: { code: 'no-answer' } } as never);
      });

    it('ends each of several questions at its own time', async () => {
      const ended: number[] = [];
      for (const timeoutMs of [300, 60, 120]) void transport.exchange(1, question, timeoutMs).then(() => ended.push(timeoutMs));
      await heard();
      for (const [ms, so] of [
        [59, []],
        [1, [60]],
        [60, [60, 120]],
        [179, [60, 120]],
        [1, [60, 120, 300]],
      ] as const) {
        wind(ms);
        await turn();
        expect(ended).toEqual([...so]);
      }
    });
  });

  function wind(ms: number): void {
    nowMs += ms;
    jasmine.clock().tick(ms);
  }

  /** Until the server has had so many pieces. */
  async function heard(pieces = 1): Promise<void> {
    while (received < pieces) await turn();
  }

  function turn(): Promise<void> {
    return new Promise((done) => setImmediate(done));
  }
});
