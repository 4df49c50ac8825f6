import { createRequire } from 'node:module';
import { connect, createServer, type AddressInfo, type Server } from 'node:net';
import { Worker } from 'node:worker_threads';
import jsmodbus from 'jsmodbus';
import { tcpFrame } from '@plain-envoy/core/codec';
import { requestPdu } from '@plain-envoy/core/frame';
import { ask } from '../client/index.js';
import { lineTime, silenceMs } from '@plain-envoy/core/line';
import { answerPdu, LineServer, ModbusTcpServer, RegisterBank } from '../server/index.js';
import { type Channel, ChannelTransport, LineTransport, type Station, TcpTransport, VirtualLine } from '../links/index.js';

/**
 * Our client against a raw socket and two libraries, all in one run against the same server on loopback; then our server
 * against a raw echo and the libraries' servers, all under the same raw client; then exchanges on serial lines against the formula. Prints transactions a second, and ratios.
 */
const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default &
  typeof import('modbus-serial');
const RUN_MS = 700;
const PATIENCE_MS = 300;
const ROUNDS = 5;
const HOST = '127.0.0.1';

/** One way of asking: resolves when the answer to one read is there. */
interface Contender {
  name: string;
  read(count: number): Promise<unknown>;
  close(): void;
}

/** Transactions a second with so many open at a time; the best of several short runs, taken in turn so that all meet the same weather. */
async function race(contenders: readonly Contender[], count: number, open: number): Promise<Map<string, number>> {
  const best = new Map<string, number>();
  for (let round = 0; round < ROUNDS; round++) {
    for (const { name, read } of contenders) best.set(name, Math.max(best.get(name) ?? 0, await rate(() => read(count), open)));
  }
  return best;
}

async function rate(once: () => Promise<unknown>, open: number): Promise<number> {
  const from = performance.now();
  let done = 0;
  const lane = async () => {
    while (performance.now() - from < RUN_MS) {
      await once();
      done += 1;
    }
  };
  // A peer that loses an answer would never end; what it has done by then counts.
  const late = new Promise((end) => setTimeout(end, RUN_MS + PATIENCE_MS));
  await Promise.race([Promise.all(Array.from({ length: open }, lane)), late]);
  return (done * 1000) / (performance.now() - from);
}

/** Frames written and answers counted by length, with nothing looked at: what the socket itself can do. */
function rawClient(port: number, name = 'raw socket'): Promise<Contender> {
  return new Promise((ready) => {
    const socket = connect({ port, host: HOST, noDelay: true });
    const waiting: { bytes: number; done(): void }[] = [];
    const frames = new Map(
      [10, 125].map((count) => [count, tcpFrame(1, { unit: 1, pdu: requestPdu({ functionCode: 3, offset: 0, count }) })]),
    );
    let have = 0;
    socket.on('data', (chunk) => {
      have += chunk.length;
      while (waiting[0] && have >= waiting[0].bytes) {
        have -= waiting[0].bytes;
        waiting.shift()!.done();
      }
    });
    socket.on('error', () => undefined);
    const read = (count: number) =>
      new Promise<void>((done) => {
        waiting.push({ bytes: 9 + count * 2, done });
        socket.write(frames.get(count)!);
      });
    socket.once('connect', () => ready({ name, read, close: () => socket.destroy() }));
  });
}

function ourClient(port: number): Contender {
  const transport = new TcpTransport(HOST, port);
  const read = (count: number) => ask(transport, { functionCode: 3, offset: 0, count, unitId: 1, timeoutMs: 2000, tries: 1 });
  return { name: 'ours', read, close: () => transport.close() };
}

async function modbusSerialClient(port: number): Promise<Contender> {
  const client = new ModbusRTU();
  await client.connectTCP(HOST, { port });
  client.setID(1);
  return { name: 'modbus-serial', read: (count) => client.readHoldingRegisters(0, count), close: () => client.close(() => undefined) };
}

async function jsmodbusClient(port: number): Promise<Contender> {
  const socket = connect({ port, host: HOST, noDelay: true });
  const client = new jsmodbus.client.TCP(socket, 1);
  await new Promise((done) => socket.once('connect', done));
  return { name: 'jsmodbus', read: (count) => client.readHoldingRegisters(0, count), close: () => socket.destroy() };
}

function listen(server: Server): Promise<number> {
  return new Promise((done) => server.listen(0, HOST, () => done((server.address() as AddressInfo).port)));
}

/** Answers each request of twelve bytes with a ready-made answer: what a server can do that does nothing. */
function rawServer(): Promise<{ port: number; close(): void }> {
  const server = createServer({ noDelay: true }, (socket) => {
    socket.on('error', () => undefined);
    socket.on('data', (chunk) => {
      const replies: Uint8Array[] = [];
      for (let at = 0; at + 12 <= chunk.length; at += 12) replies.push(replyFor((chunk[at + 10]! << 8) | chunk[at + 11]!));
      socket.write(Buffer.concat(replies));
    });
  });
  const replyFor = (count: number) => tcpFrame(1, { unit: 1, pdu: new Uint8Array(2 + count * 2) });
  return listen(server).then((port) => ({ port, close: () => server.close() }));
}

function print(title: string, rates: Map<string, number>, base: string): { name: string; rate: number }[] {
  console.log(`\n${title}`);
  for (const [name, value] of rates)
    console.log(
      `  ${name.padEnd(14)} ${Math.round(value).toString().padStart(7)} /s   × ${(value / rates.get(base)!).toFixed(2)} of ${base}`,
    );
  const libraries = [...rates]
    .filter(([name]) => name === 'modbus-serial' || name === 'jsmodbus')
    .map(([name, value]) => ({ name, rate: value }));
  const faster = libraries.sort((a, b) => b.rate - a.rate)[0]!;
  console.log(`  ratio ${(rates.get('ours')! / faster.rate).toFixed(2)}  ${title}: ours ÷ ${faster.name}, the faster library`);
  return libraries;
}

async function clients(): Promise<void> {
  const server = new Worker(new URL('./server-thread.js', import.meta.url));
  const port = await new Promise<number>((ready) => server.once('message', ready));
  const contenders = [await rawClient(port), ourClient(port), await modbusSerialClient(port), await jsmodbusClient(port)];
  for (const open of [1, 16]) {
    for (const count of [10, 125])
      print(`Clients, reads of ${count} registers, ${open} open`, await race(contenders, count, open), 'raw socket');
  }
  for (const contender of contenders) contender.close();
  await server.terminate();
}

async function servers(): Promise<void> {
  const bank = new RegisterBank({ holding: 200 });
  const ours = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: HOST, port: 0, connections: 16 });
  await ours.start();
  const raw = await rawServer();
  const js = createServer();
  new jsmodbus.server.TCP(js, { holding: Buffer.alloc(1000) });
  const jsPort = await listen(js);
  const serial = new ModbusRTU.ServerTCP({ getHoldingRegister: () => 0 }, { host: HOST, port: 0, unitID: 1 });
  const serialPort = await new Promise<number>((done) =>
    serial.on('initialized', () => done((serial as unknown as { _server: Server })._server.address() as never)),
  ).then((address) => (address as unknown as AddressInfo).port);
  const contenders = [
    await rawClient(raw.port, 'raw server'),
    await rawClient(ours.port, 'ours'),
    await rawClient(serialPort, 'modbus-serial'),
    await rawClient(jsPort, 'jsmodbus'),
  ];
  for (const open of [1, 16]) {
    for (const count of [10, 125])
      print(`Servers under a raw client, reads of ${count} registers, ${open} open`, await race(contenders, count, open), 'raw server');
  }
  for (const contender of contenders) contender.close();
}

const EXCHANGES = 40;

/** A serial port of this machine, as far as it can be had without one: bytes leave at the pace of the line and come in one lump. */
function portOn(line: VirtualLine): Channel {
  let onBytes: (bytes: Uint8Array) => void = () => undefined;
  const station: Station = { settings: line.settings, hear: (frame) => onBytes(frame) };
  line.attach(station);
  return {
    write: (bytes) => line.send(station, bytes).then(() => undefined),
    listen: (hear) => void (onBytes = hear),
    close: () => line.detach(station),
  };
}

/** How long exchanges take on a line of the pace of a real one, against the formula, with the silence before and after each frame kept. */
async function lines(): Promise<void> {
  for (const framing of ['rtu', 'ascii'] as const) {
    for (const baud of [9600, 19_200, 115_200]) {
      const settings = { baud, dataBits: 8, parity: 'even', stopBits: 1 } as const;
      const { totalMs } = lineTime({ settings, framing, functionCode: 3, count: 10 });
      const masters = {
        'simulated line': (line: VirtualLine) => new LineTransport(line),
        'serial port': (line: VirtualLine) =>
          new ChannelTransport(() => Promise.resolve(portOn(line)), framing, framing === 'rtu' ? silenceMs(settings) : 0),
      };
      for (const [name, open] of Object.entries(masters)) {
        const line = new VirtualLine(settings, framing);
        const bank = new RegisterBank({ holding: 200 });
        new LineServer(line, (_unit, pdu) => answerPdu(bank, pdu), { unitId: 1, delayMs: 0 }).start();
        const transport = open(line);
        const once = () => ask(transport, { functionCode: 3, offset: 0, count: 10, unitId: 1, timeoutMs: 2000, tries: 1 });
        await once();
        const from = performance.now();
        for (let done = 0; done < EXCHANGES; done++) await once();
        const tookMs = (performance.now() - from) / EXCHANGES;
        transport.close();
        line.close();
        console.log(
          `  ratio ${(tookMs / totalMs).toFixed(3)}  ${framing} at ${baud} baud, ${name}: ${tookMs.toFixed(2)} ms an exchange ÷ ${totalMs.toFixed(2)} ms by the formula`,
        );
      }
    }
  }
}

await clients();
await servers();
await lines();
process.exit(0);
