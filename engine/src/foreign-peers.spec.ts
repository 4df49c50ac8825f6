import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { silenceMs } from '@plain-envoy/core/line';
import { cable } from './cable.spec-helper.js';
import { ask, type Ask, inquire, type RequestResult } from './client/index.js';
import { ChannelTransport, type ClientTransport, openSerialPort, TcpTransport } from './links/index.js';
import {
  answerInquiry,
  answerPdu,
  BusCounters,
  ChannelServer,
  type DeviceSelf,
  FileStore,
  ModbusTcpServer,
  RegisterBank,
  type Responder,
} from './server/index.js';

const HEADERS = '/usr/include/modbus';
const UNIT = 17;
const settings = { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 } as const;
const sources = fileURLToPath(new URL('../foreign/', import.meta.url));
let folder: string | null = null;

/** The C programs, built once with the library of Debian's package libmodbus-dev; skips the test where they cannot be. */
function program(name: 'client' | 'server'): string {
  folder ??= mkdtempSync(join(tmpdir(), 'envoy-foreign-'));
  const path = join(folder, name);
  if (!existsSync(join(HEADERS, 'modbus.h'))) pending('libmodbus-dev is not installed.');
  const built = spawnSync('gcc', ['-o', path, join(sources, `${name}.c`), `-I${HEADERS}`, '-lmodbus'], { encoding: 'utf8' });
  if (built.error) pending('gcc is not installed.');
  if (built.status !== 0) throw new Error(built.stderr);
  return path;
}
afterAll(() => folder && rmSync(folder, { recursive: true, force: true }));

/** A program that has said that it is ready, its answers line by line. */
class Foreign {
  private readonly lines: AsyncIterator<string>;

  private constructor(private readonly process: ChildProcess) {
    this.lines = createInterface({ input: process.stdout! })[Symbol.asyncIterator]();
  }

  static async start(name: 'client' | 'server', ...words: (string | number)[]): Promise<Foreign> {
    const foreign = new Foreign(spawn(program(name), words.map(String), { stdio: ['pipe', 'pipe', 'inherit'] }));
    expect(await foreign.line()).toBe('ready');
    return foreign;
  }

  async ask(...numbers: number[]): Promise<string> {
    this.process.stdin!.write(`${numbers.join(' ')}\n`);
    return this.line();
  }

  async end(): Promise<void> {
    const ended = once(this.process, 'exit');
    this.process.kill('SIGKILL');
    await ended;
  }

  private async line(): Promise<string> {
    const next = await this.lines.next();
    return next.done ? 'ended' : next.value;
  }
}

async function freePort(): Promise<number> {
  const listening = createServer().listen(0, '127.0.0.1');
  await once(listening, 'listening');
  const { port } = listening.address() as { port: number };
  await new Promise((done) => listening.close(done));
  return port;
}

const asking = (transport: ClientTransport, request: Partial<Ask>) =>
  ask(transport, { functionCode: 3, offset: 0, count: 1, unitId: UNIT, timeoutMs: 1000, tries: 1, ...request });
const values = (...of: number[]): RequestResult => ({ kind: 'values', values: of });
const written: RequestResult = { kind: 'written' };

/** Every function for registers, its limits, and its exceptions. */
async function everyFunction(transport: ClientTransport): Promise<void> {
  expect(await asking(transport, { offset: 3, count: 3 })).toEqual(values(30, 40, 50));
  expect(await asking(transport, { functionCode: 4, offset: 7, count: 2 })).toEqual(values(1007, 1008));
  expect(await asking(transport, { functionCode: 2, offset: 0, count: 7 })).toEqual(values(1, 0, 0, 1, 0, 0, 1));
  expect(await asking(transport, { functionCode: 15, offset: 3, count: 10, values: [1, 0, 1, 1, 0, 0, 0, 0, 1, 1] })).toEqual(written);
  expect(await asking(transport, { functionCode: 5, offset: 4, values: [1] })).toEqual(written);
  expect(await asking(transport, { functionCode: 1, offset: 3, count: 10 })).toEqual(values(1, 1, 1, 1, 0, 0, 0, 0, 1, 1));
  expect(await asking(transport, { functionCode: 6, offset: 10, values: [0xbeef] })).toEqual(written);
  expect(await asking(transport, { functionCode: 16, offset: 11, count: 2, values: [1, 65_535] })).toEqual(written);
  expect(await asking(transport, { functionCode: 22, offset: 10, values: [0xff00, 0x0042] })).toEqual(written);
  expect(await asking(transport, { offset: 10, count: 3 })).toEqual(values(0xbe42, 1, 65_535));
  const exchange = { functionCode: 23, offset: 20, count: 2, values: [7, 8], also: { offset: 19, count: 4 } };
  expect(await asking(transport, exchange)).toEqual(values(190, 7, 8, 220));
  expect((await asking(transport, { count: 125 })).kind).toBe('values');
  expect((await asking(transport, { functionCode: 16, offset: 50, count: 123, values: Array<number>(123).fill(9) })).kind).toBe('written');
  expect(await asking(transport, { offset: 199, count: 2 })).toEqual({ kind: 'failed', failure: { code: 'exception', exception: 2 } });
}

describe('our client and a server made with a C library', () => {
  let theirs: Foreign;
  let transport: ClientTransport;
  let pair: Awaited<ReturnType<typeof cable>> | null = null;

  const overTcp = async (delayMs = 0) => {
    const port = await freePort();
    theirs = await Foreign.start('server', 'tcp', port, delayMs);
    transport = new TcpTransport('127.0.0.1', port);
  };
  const overLine = async (delayMs = 0) => {
    program('server');
    pair = await cable();
    theirs = await Foreign.start('server', 'rtu', pair.b, settings.baud, UNIT, delayMs);
    transport = new ChannelTransport(() => openSerialPort(pair!.a, settings), 'rtu', silenceMs(settings), 'told');
  };
  afterEach(async () => {
    transport?.close();
    await theirs?.end();
    await pair?.cut();
    pair = null;
  });

  it('understand each other over TCP, function by function, with their limits and exceptions', async () => {
    await overTcp();
    await everyFunction(transport);
  });

  it('understand each other on a serial port, function by function, with their limits and exceptions', async () => {
    await overLine();
    await everyFunction(transport);
    const told = await inquire(transport, { ask: { functionCode: 17 }, unitId: UNIT, timeoutMs: 1000, tries: 1 });
    expect(told.kind === 'told' && told.facts.map(({ name }) => name)).toEqual(['server ID', 'run indicator', 'more']);
    expect(told.kind === 'told' && told.facts[1]?.text).toBe('runs');
  });

  it('one ADU a write: sixteen open at a time are all answered, each with its own', async () => {
    await overTcp();
    const asked = Array.from({ length: 16 }, (_, offset) => asking(transport, { offset }));
    expect(await Promise.all(asked)).toEqual(asked.map((_, offset) => values(offset * 10)));
  });

  it('a late answer never becomes the answer to the next question', async () => {
    // It goes by the machine’s clock, whose every standstill makes it seem faster.
    await overLine(900);
    const late: unknown[] = [];
    transport.onStray = (_, afterMs) => late.push(afterMs);
    for (const offset of [1, 2, 3, 4]) {
      const outcome = await asking(transport, { offset, timeoutMs: 500, tries: 2 });
      if (outcome.kind === 'values')
        expect(outcome.values)
          .withContext(`offset ${offset}`)
          .toEqual([offset * 10]);
    }
    expect(late.length).withContext('they are counted as late').toBeGreaterThan(0);
  });

  it('a broadcast is taken by it and awaits no answer', async () => {
    await overLine();
    const toAll = { functionCode: 6, offset: 30, values: [615], unitId: 0, turnaroundMs: 100 };
    expect(await asking(transport, toAll)).toEqual({ kind: 'written', isUnconfirmed: true });
    expect(await asking(transport, { offset: 30 })).toEqual(values(615));
  });

  it('nobody answers for another unit on its line', async () => {
    await overLine();
    expect(await asking(transport, { unitId: UNIT + 1, timeoutMs: 200 })).toEqual({ kind: 'failed', failure: { code: 'no-answer' } });
    // It takes the next frame for the answer of that other unit.
    expect(await asking(transport, { offset: 5, tries: 2 })).toEqual(values(50));
  });
});

describe('a client made with a C library and our server', () => {
  const self: DeviceSelf = { bank: new RegisterBank({}), files: new FileStore(1), serverId: 'Pump', objects: new Map() };
  let theirs: Foreign;
  let bank: RegisterBank;
  let respond: Responder;
  let stop: () => Promise<void> | void;

  beforeEach(() => {
    bank = new RegisterBank({ holding: 200, input: 200, coil: 200, discrete: 200 });
    for (let at = 0; at < 200; at++) {
      bank.set('holding', at, 10 * at);
      bank.set('input', at, 1000 + at);
      bank.set('discrete', at, Number(at % 3 === 0));
    }
    const counters = new BusCounters();
    respond = (_unit, pdu) => answerInquiry(self, counters, pdu) ?? answerPdu(bank, pdu);
    stop = () => undefined;
  });
  afterEach(async () => {
    await theirs?.end();
    await stop();
  });

  async function everyQuestion(): Promise<void> {
    expect(await theirs.ask(3, 3, 3)).toBe('30 40 50');
    expect(await theirs.ask(4, 7, 2)).toBe('1007 1008');
    expect(await theirs.ask(2, 0, 7)).toBe('1 0 0 1 0 0 1');
    expect(await theirs.ask(15, 3, 1, 0, 1, 1)).toBe('written');
    expect(await theirs.ask(5, 4, 1)).toBe('written');
    expect(await theirs.ask(1, 3, 4)).toBe('1 1 1 1');
    expect(await theirs.ask(6, 10, 0xbeef)).toBe('written');
    expect(await theirs.ask(16, 11, 1, 65_535)).toBe('written');
    expect(await theirs.ask(22, 10, 0xff00, 0x42)).toBe('written');
    expect(await theirs.ask(3, 10, 3)).toBe(`${0xbe42} 1 65535`);
    expect(await theirs.ask(23, 19, 4, 20, 7, 8)).toBe('190 7 8 220');
    expect((await theirs.ask(3, 0, 125)).split(' ').length).toBe(125);
    expect(await theirs.ask(3, 199, 2)).toBe('error Illegal data address');
    expect([...bank.slice('holding', 20, 2)]).toEqual([7, 8]);
  }

  it('understand each other over TCP, function by function, with their limits and exceptions', async () => {
    program('client');
    const server = new ModbusTcpServer(respond, { host: '127.0.0.1', port: 0, connections: 4 });
    await server.start();
    stop = () => server.stop();
    theirs = await Foreign.start('client', 'tcp', server.port, UNIT);
    await everyQuestion();
  });

  it('understand each other on a serial port, function by function, with their limits and exceptions', async () => {
    program('client');
    const pair = await cable();
    const server = new ChannelServer(await openSerialPort(pair.b, settings), respond, 'rtu');
    stop = async () => {
      server.stop();
      await pair.cut();
    };
    theirs = await Foreign.start('client', 'rtu', pair.a, settings.baud, UNIT);
    await everyQuestion();
    expect(await theirs.ask(17, 0, 0))
      .withContext('report server ID: Pump, and it runs')
      .toBe('80 117 109 112 255');
  });

  it('is refused what only serial lines have, over TCP', async () => {
    program('client');
    const server = new ModbusTcpServer((_unit, pdu) => answerInquiry(self, null, pdu) ?? answerPdu(bank, pdu), {
      ...{ host: '127.0.0.1', port: 0, connections: 4 },
    });
    await server.start();
    stop = () => server.stop();
    theirs = await Foreign.start('client', 'tcp', server.port, UNIT);
    expect(await theirs.ask(17, 0, 0)).toBe('error Illegal function');
  });
});
