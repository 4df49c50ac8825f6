import { createRequire } from 'node:module';
import { createServer, connect } from 'node:net';
import type { AddressInfo } from 'node:net';
import jsmodbus from 'jsmodbus';
import { ask, type Ask } from './client/index.js';
import { answerPdu, ModbusTcpServer, RegisterBank } from './server/index.js';
import { TcpTransport } from './links/index.js';

const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default &
  typeof import('modbus-serial');

/** Clients and servers of other hands must understand ours, and ours theirs. */
describe('our server', () => {
  let server: ModbusTcpServer;
  const bank = new RegisterBank({ holding: 200, input: 200, coil: 40, discrete: 40 });

  beforeEach(async () => {
    bank.set('holding', 0, 615, 734);
    bank.set('input', 10, 1, 2, 3);
    bank.set('discrete', 2, 1);
    server = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.0.0.1', port: 0, connections: 8 });
    await server.start();
  });
  afterEach(() => server.stop());

  it('is read and written by modbus-serial', async () => {
    const client = new ModbusRTU();
    await client.connectTCP('127.0.0.1', { port: server.port });
    client.setID(17);
    expect((await client.readHoldingRegisters(0, 2)).data).toEqual([615, 734]);
    expect((await client.readInputRegisters(10, 3)).data).toEqual([1, 2, 3]);
    expect((await client.readDiscreteInputs(0, 3)).data.slice(0, 3)).toEqual([false, false, true]);
    await client.writeRegisters(20, [7, 8, 9]);
    await client.writeRegister(23, 10);
    await client.writeCoils(4, [true, false, true]);
    await client.writeCoil(7, true);
    expect([...bank.slice('holding', 20, 4)]).toEqual([7, 8, 9, 10]);
    expect([...bank.slice('coil', 4, 4)]).toEqual([1, 0, 1, 1]);
    await expectAsync(client.readHoldingRegisters(199, 2)).toBeRejected();
    await new Promise<void>((done) => client.close(() => done()));
  });

  it('is read and written by jsmodbus', async () => {
    const socket = connect(server.port, '127.0.0.1');
    const client = new jsmodbus.client.TCP(socket, 17);
    await new Promise((done) => socket.once('connect', done));
    expect((await client.readHoldingRegisters(0, 2)).response.body.valuesAsArray).toEqual([615, 734]);
    await client.writeMultipleRegisters(30, [5, 6]);
    await client.writeSingleCoil(9, true);
    expect([...bank.slice('holding', 30, 2), bank.get('coil', 9)]).toEqual([5, 6, 1]);
    socket.destroy();
  });
});

describe('our client', () => {
  const read: Ask = { functionCode: 3, offset: 0, count: 2, unitId: 1, timeoutMs: 1000, tries: 1 };

  it('reads and writes a server made with jsmodbus', async () => {
    const listener = createServer();
    const theirs = new jsmodbus.server.TCP(listener, { holding: Buffer.alloc(100), coils: Buffer.alloc(20) });
    await new Promise<void>((done) => listener.listen(0, '127.0.0.1', done));
    const transport = new TcpTransport('127.0.0.1', (listener.address() as AddressInfo).port);
    expect(await ask(transport, { ...read, functionCode: 16, values: [615, 734] })).toEqual({ kind: 'written' });
    expect(await ask(transport, read)).toEqual({ kind: 'values', values: [615, 734] });
    expect(theirs.holding.readUInt16BE(2)).toBe(734);
    transport.close();
    await new Promise((done) => listener.close(done));
  });

  it('reads and writes a server made with modbus-serial', async () => {
    const written: number[] = [];
    const theirs = new ModbusRTU.ServerTCP(
      {
        getHoldingRegister: (address: number) => Promise.resolve(600 + address),
        getDiscreteInput: (address: number) => Promise.resolve(address === 2),
        setRegister: (address: number, value: number) => Promise.resolve(void written.push(address, value)),
      },
      { host: '127.0.0.1', port: 0, unitID: 1 },
    );
    const port = await new Promise<number>((done) => {
      theirs.on('initialized', () => done((theirs as unknown as { _server: { address(): AddressInfo } })._server.address().port));
    });
    const transport = new TcpTransport('127.0.0.1', port);
    expect(await ask(transport, read)).toEqual({ kind: 'values', values: [600, 601] });
    expect(await ask(transport, { ...read, functionCode: 2, count: 3 })).toEqual({ kind: 'values', values: [0, 0, 1] });
    expect(await ask(transport, { ...read, functionCode: 6, count: 1, offset: 9, values: [77] })).toEqual({ kind: 'written' });
    expect(written).toEqual([9, 77]);
    transport.close();
    await new Promise<void>((done) => theirs.close(() => done()));
  });
});
