import { createRequire } from 'node:module';
import { connect } from 'node:net';
import { fernhollow } from '@plain-envoy/core/demo';
import type { Counters } from '@plain-envoy/core/feed';
import type { SerialSettings } from '@plain-envoy/core/line';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { cable } from './cable.spec-helper.js';
import { ask } from './client/index.js';
import { answerPdu, ChannelServer, RegisterBank, RtuOverTcpServer } from './server/index.js';
import { ChannelTransport, openSerialPort, openSocket } from './links/index.js';
import { EngineHost } from './worker/index.js';
import { compile } from '@plain-envoy/core/compile';

const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default;
const UNIT = 17;
const bank = () => {
  const made = new RegisterBank({ holding: 200, coil: 32 });
  made.set('holding', 0, 615, 734, 65_535);
  return made;
};

/** The demo without gateways, its routes carried by Plain Envoy itself. */
function onOneBus(): ProjectDocument {
  const demo = fernhollow();
  const gateways = new Set(demo.devices.filter(({ kind }) => kind === 'gateway').map(({ id }) => id));
  const routes = demo.routes.map((route) => ({ ...route, carrierId: null }));
  return { ...demo, routes, ports: demo.ports.filter(({ deviceId }) => !gateways.has(deviceId)) };
}

describe('a serial port', () => {
  let pair: Awaited<ReturnType<typeof cable>>;
  beforeEach(async () => void (pair = await cable()));
  afterEach(() => pair.cut());

  for (const framing of ['rtu', 'ascii'] as const) {
    for (const baud of [9600, 115_200]) {
      const settings: SerialSettings =
        framing === 'rtu' ? { baud, dataBits: 8, parity: 'even', stopBits: 1 } : { baud, dataBits: 7, parity: 'even', stopBits: 1 };

      it(`serves a client of other hands in ${framing.toUpperCase()} at ${baud} baud`, async () => {
        const registers = bank();
        const server = new ChannelServer(
          await openSerialPort(pair.b, settings),
          (unit, pdu) => (unit === UNIT ? answerPdu(registers, pdu) : null),
          framing,
        );
        const peer = new ModbusRTU();
        const options = { baudRate: baud, dataBits: settings.dataBits, parity: settings.parity, stopBits: settings.stopBits };
        await (framing === 'rtu' ? peer.connectRTUBuffered(pair.a, options) : peer.connectAsciiSerial(pair.a, options));
        peer.setID(UNIT);
        peer.setTimeout(2000);
        expect((await peer.readHoldingRegisters(0, 3)).data).toEqual([615, 734, 65_535]);
        await peer.writeRegisters(10, [1, 2, 3]);
        expect([...registers.slice('holding', 10, 3)]).toEqual([1, 2, 3]);
        await peer.writeCoil(4, true);
        expect((await peer.readCoils(0, 8)).data.slice(0, 8)).toEqual([false, false, false, false, true, false, false, false]);
        expect((await peer.readHoldingRegisters(0, 125)).data.length).toBe(125);
        await new Promise<void>((done) => peer.close(() => done()));
        server.stop();
      });

      it(`asks a server with the frames that ${framing.toUpperCase()} has, at ${baud} baud`, async () => {
        const registers = bank();
        const server = new ChannelServer(await openSerialPort(pair.b, settings), (_unit, pdu) => answerPdu(registers, pdu), framing);
        const transport = new ChannelTransport(() => openSerialPort(pair.a, settings), framing);
        const request = { functionCode: 3, offset: 0, count: 125, unitId: UNIT, timeoutMs: 2000, tries: 1 };
        expect((await ask(transport, request)).kind).toBe('values');
        expect(await ask(transport, { ...request, functionCode: 16, offset: 20, count: 2, values: [7, 8] })).toEqual({ kind: 'written' });
        expect([...registers.slice('holding', 20, 2)]).toEqual([7, 8]);
        expect(await ask(transport, { ...request, offset: 199, count: 2 })).toEqual({
          kind: 'failed',
          failure: { code: 'exception', exception: 2 },
        });
        server.stop();
        expect(await ask(transport, { ...request, timeoutMs: 50 })).toEqual({ kind: 'failed', failure: { code: 'no-answer' } });
        transport.close();
      });
    }
  }

  it('is where the engine asks on a line that is bound to it; of a line that is bound to none it says so', async () => {
    const settings: SerialSettings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 };
    const server = new ChannelServer(await openSerialPort(pair.b, settings), (_unit, pdu) => answerPdu(bank(), pdu), 'rtu');
    const { plan } = compile(onOneBus());
    const [endpoint] = plan.endpoints.filter(({ via }) => via === 'line');
    const read = plan.requests.find(({ endpointId, kind }) => endpointId === endpoint!.id && kind === 'read')!;
    const counted: Counters[] = [];
    const crashed: Error[] = [];
    const host = new EngineHost(
      ({ requests }) => counted.push(...requests.filter(({ id }) => id === read.id)),
      (error) => crashed.push(error),
      () => Promise.reject(new Error('Nobody asks for a simulated line.')),
    );
    const seen = async (what: string, row: (counters: Counters) => boolean) => {
      for (const end = Date.now() + 10_000; !counted.some(row); await new Promise((done) => setTimeout(done, 20)))
        if (Date.now() > end) throw new Error(`It did not come: ${what}. ${counted.at(-1)?.lastError}`);
    };
    const bound = { ...endpoint!, bound: { path: pair.a, settings, framing: 'rtu' as const, cutsEcho: false } };
    host.start({ endpoints: [bound], requests: [read], routes: [] }, 'real', 1);
    await seen('an answer over the serial port', ({ answered, exceptions }) => answered + (exceptions[2] ?? 0) > 0);
    host.stop();
    host.start({ ...plan, requests: [read], routes: [] }, 'real', 1);
    await seen('why nothing is asked', ({ lastError }) => !!lastError?.includes('bound to no serial port of this machine'));
    await host.end();
    server.stop();
    expect(crashed).toEqual([]);
  });

  it('that cannot be opened is said in a sentence', async () => {
    const transport = new ChannelTransport(
      () => openSerialPort('/dev/nowhere', { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 }),
      'rtu',
    );
    const outcome = await ask(transport, { functionCode: 3, offset: 0, count: 1, unitId: 1, timeoutMs: 100, tries: 1 });
    expect(outcome).toEqual({
      kind: 'failed',
      failure: { code: 'own-port', detail: jasmine.stringContaining('/dev/nowhere cannot be opened at 9600 8N1') as never },
    });
  });
});

describe('RTU over TCP', () => {
  let server: RtuOverTcpServer;
  let port: number;
  const registers = bank();
  beforeEach(async () => {
    server = new RtuOverTcpServer((_unit, pdu) => answerPdu(registers, pdu), { host: '127.0.0.1', port: 0, connections: 2 });
    await server.start();
    port = server.port;
  });
  afterEach(() => server.stop());

  it('is served to a client of other hands and asked by ours', async () => {
    const peer = new ModbusRTU();
    await peer.connectTelnet('127.0.0.1', { port });
    peer.setID(UNIT);
    expect((await peer.readHoldingRegisters(0, 2)).data).toEqual([615, 734]);
    await new Promise<void>((done) => peer.close(() => done()));
    const ours = new ChannelTransport(() => openSocket('127.0.0.1', port), 'rtu');
    const read = { functionCode: 3, offset: 0, count: 2, unitId: UNIT, timeoutMs: 1000, tries: 1 };
    expect(await ask(ours, read)).toEqual({ kind: 'values', values: [615, 734] });
    ours.close();
  });

  it('survives noise before a request, and answers the next', async () => {
    const socket = connect(port, '127.0.0.1');
    await new Promise((done) => socket.once('connect', done));
    socket.write(Uint8Array.of(0xff, 0x7e, 0x00));
    socket.destroy();
    const ours = new ChannelTransport(() => openSocket('127.0.0.1', port), 'rtu');
    const read = { functionCode: 3, offset: 0, count: 1, unitId: UNIT, timeoutMs: 1000, tries: 1 };
    expect((await ask(ours, read)).kind).toBe('values');
    ours.close();
  });

  it('says that nothing listens where nothing does', async () => {
    const ours = new ChannelTransport(() => openSocket('127.0.0.1', 1), 'rtu');
    const outcome = await ask(ours, { functionCode: 3, offset: 0, count: 1, unitId: 1, timeoutMs: 100, tries: 1 });
    expect(outcome).toEqual({ kind: 'failed', failure: { code: 'refused-connection', host: '127.0.0.1', port: 1 } });
    ours.close();
  });
});
