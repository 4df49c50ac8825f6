import { connect, type Socket } from 'node:net';
import { rtuFrame, tcpFrame } from '@plain-envoy/core/codec';
import { gatewayResponder } from '../gateway/index.js';
import { LineTransport, TcpTransport, VirtualLine } from '../links/index.js';
import { answerPdu, LineServer, ModbusTcpServer, RegisterBank, RtuOverTcpServer, type SocketServer } from './index.js';

const read = (offset: number) => Uint8Array.of(3, 0, offset, 0, 1);
const options = { host: '127.0.0.1', port: 0, connections: 4 };

/** A raw client: what it is sent, piece by piece as it came. */
async function client(port: number): Promise<{ socket: Socket; pieces: Buffer[]; ended: Promise<void> }> {
  const socket = connect({ port, host: '127.0.0.1', allowHalfOpen: true });
  await new Promise<void>((connected) => socket.once('connect', connected));
  const pieces: Buffer[] = [];
  socket.on('data', (bytes) => pieces.push(bytes));
  return { socket, pieces, ended: new Promise((done) => socket.once('end', done)) };
}

describe('who asks over a socket', () => {
  const bank = new RegisterBank({ holding: 20 });
  const servers: SocketServer[] = [];
  const started = async <Server extends SocketServer>(server: Server) => {
    servers.push(server);
    await server.start();
    return server;
  };
  beforeEach(() => Array.from({ length: 20 }, (_, offset) => bank.set('holding', offset, 100 + offset)));
  afterEach(async () => {
    for (const server of servers.splice(0)) await server.stop();
  });

  it('gets its answer after it has said that it asks nothing more: Modbus TCP', async () => {
    const { port } = await started(
      new ModbusTcpServer(async (_unit, pdu) => {
        const own = pdu.slice();
        await new Promise((done) => setTimeout(done, 20));
        return answerPdu(bank, own);
      }, options),
    );
    const { socket, pieces, ended } = await client(port);
    socket.end(tcpFrame(7, { unit: 1, pdu: read(3) }));
    await ended;
    expect([...Buffer.concat(pieces)]).toEqual([...tcpFrame(7, { unit: 1, pdu: Uint8Array.of(3, 2, 0, 103) })]);
  });

  it('gets its answer after it has said that it asks nothing more: RTU over TCP', async () => {
    const { port } = await started(new RtuOverTcpServer((_unit, pdu) => answerPdu(bank, pdu), options));
    const { socket, pieces, ended } = await client(port);
    socket.end(rtuFrame({ unit: 1, pdu: read(3) }));
    await ended;
    expect([...Buffer.concat(pieces)]).toEqual([...rtuFrame({ unit: 1, pdu: Uint8Array.of(3, 2, 0, 103) })]);
  });

  it('gets each answer in a piece of its own, and asks each question in one', async () => {
    const writes: number[] = [];
    const { port } = await started(new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), options));
    const { socket } = await client(port);
    const [accepted] = [...(servers[0] as unknown as { sockets: Set<Socket> }).sockets];
    const write = accepted!.write.bind(accepted!);
    accepted!.write = ((bytes: Uint8Array) => {
      writes.push(bytes.length);
      return write(bytes);
    }) as typeof write;
    socket.write(Buffer.concat([1, 2, 3].map((transaction) => tcpFrame(transaction, { unit: 1, pdu: read(transaction) }))));
    while (writes.length < 3) await new Promise((done) => setImmediate(done));
    expect(writes).toEqual([11, 11, 11]);
    socket.destroy();

    const transport = new TcpTransport('127.0.0.1', port);
    await transport.exchange(1, read(0), 1000);
    const own = (transport as unknown as { socket: Socket }).socket;
    const asks = spyOn(own, 'write').and.callThrough();
    await Promise.all([1, 2, 3, 4].map((offset) => transport.exchange(1, read(offset), 1000)));
    expect(asks.calls.allArgs().map(([bytes]) => (bytes as Uint8Array).length)).toEqual([12, 12, 12, 12]);
    transport.close();
  });

  it('keeps nobody waiting behind a gateway once it has gone: what it asked and what is not begun is dropped, or comes last', async () => {
    const line = new VirtualLine({ baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 });
    const heard: number[] = [];
    let inVain = 0;
    line.attach({ settings: line.settings, hear: (frame) => (inVain += Number(frame[0] === 9)) });
    new LineServer(
      line,
      (_unit, pdu) => {
        heard.push(pdu[2]!);
        return answerPdu(bank, pdu);
      },
      { unitId: 1, delayMs: 0 },
    ).start();
    const { port } = await started(new ModbusTcpServer(gatewayResponder(new LineTransport(line), { timeoutMs: 400 }), options));
    const gone = await client(port);
    // Unit 9 is not there: each question to it holds the line for its timeout.
    gone.socket.write(Buffer.concat([1, 2, 3, 4].map((transaction) => tcpFrame(transaction, { unit: 9, pdu: read(0) }))));
    const half = await client(port);
    half.socket.end(tcpFrame(1, { unit: 1, pdu: read(5) }));
    await new Promise((done) => setTimeout(done, 20));
    gone.socket.resetAndDestroy();
    const { socket, pieces } = await client(port);
    socket.write(tcpFrame(1, { unit: 1, pdu: read(6) }));
    while (pieces.length === 0) await new Promise((done) => setImmediate(done));
    await half.ended;
    expect(heard).withContext('who may be gone comes after who waits').toEqual([6, 5]);
    expect(inVain).withContext('only what was on the line already').toBe(1);
    socket.destroy();
    line.close();
  });
});
