import { createServer } from 'node:net';
import type { ProveEvent } from '@plain-envoy/core/feed';
import { type SerialSettings, silentTimeMs } from '@plain-envoy/core/line';
import { gatewayResponder } from '../gateway/index.js';
import {
  answerInquiry,
  answerPdu,
  type DeviceSelf,
  exception,
  FileStore,
  LineServer,
  ModbusTcpServer,
  RegisterBank,
  type Responder,
} from '../server/index.js';
import { type ClientTransport, LineTransport, TcpTransport, VirtualLine } from '../links/index.js';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { type LookAtRegisters, reachDevice, searchSettings, sweepHosts, sweepUnits } from './index.js';

const settings: SerialSettings = { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 };
const GATEWAY_WAITS_MS = 150;

async function all(events: AsyncGenerator<ProveEvent>): Promise<ProveEvent[]> {
  const seen: ProveEvent[] = [];
  for await (const event of events) seen.push(event);
  return seen;
}

const itself: DeviceSelf = {
  bank: new RegisterBank({ holding: 4 }),
  files: new FileStore(0),
  serverId: 'fan drive',
  objects: new Map([
    [0, 'Stand-in'],
    [1, 'fan drive'],
    [2, '1.0'],
  ]),
};
const device: Responder = (_unit, pdu) => answerInquiry(itself, null, pdu) ?? answerPdu(itself.bank, pdu);

/** Looks at no registers. */
const look: LookAtRegisters = () => Promise.resolve(null);

/** No unit at which somebody should be. */
const nobody: ReadonlySet<number> = new Set();

describe('a sweep by the clock', () => {
  let time: VirtualTime;
  beforeEach(() => (time = new VirtualTime()));
  afterEach(() => time.end());

  it('takes as long as it forecast, but for the few that answer at once', async () => {
    const line = new VirtualLine(settings);
    for (const unitId of [1, 2, 3, 4, 5, 5, 20]) new LineServer(line, device, { unitId, delayMs: 5 }).start();
    const passing = gatewayResponder(new LineTransport(line), { timeoutMs: GATEWAY_WAITS_MS });
    const gateway: ClientTransport = {
      exchange: async (unit, pdu) => ({ kind: 'answer', pdu: (await passing(unit, pdu))! }),
      tell: () => Promise.reject(new Error('A sweep tells nobody anything.')),
      close: () => undefined,
    };
    const silentMs = silentTimeMs(settings, 'rtu', GATEWAY_WAITS_MS);
    const waits = { timeoutMs: silentMs + 1000, silentMs, gatewayWaitsMs: GATEWAY_WAITS_MS, pauseMs: 0, designed: nobody };
    const events = await time.during(all(sweepUnits({ first: 1, last: 40, ...waits, look, open: () => gateway })), 60_000);
    const { worstMs } = events[0] as Extract<ProveEvent, { kind: 'forecast' }>;
    const { tookMs, found } = events.at(-1) as Extract<ProveEvent, { kind: 'done' }>;
    expect(found).toBe(6);
    expect(tookMs / worstMs).toBeLessThan(1);
    expect(tookMs / worstMs).toBeGreaterThan(34 / 40);
    line.close();
  });
});

describe('a sweep of a line that loses answers', () => {
  it('asks again where somebody should be, and says at first how long that takes at worst', async () => {
    const asked: number[] = [];
    const gateway: ClientTransport = {
      exchange: (unit, pdu) => {
        asked.push(unit);
        // A gateway says so of a silent unit; that of unit 4 is lost twice.
        const answers = unit === 4 && asked.filter((one) => one === unit).length === 3;
        return Promise.resolve({ kind: 'answer', pdu: exception(pdu[0]!, answers ? 2 : 11) });
      },
      tell: () => Promise.reject(new Error('A sweep tells nobody anything.')),
      close: () => undefined,
    };
    const waits = { timeoutMs: 500, silentMs: 10, gatewayWaitsMs: null, pauseMs: 0, look, open: () => gateway };
    const events = await all(sweepUnits({ first: 3, last: 5, designed: new Set([4, 5, 9]), ...waits }));
    expect(events[0]).toEqual({ kind: 'forecast', worstMs: (3 + 2 * 2) * 10, total: 3, pauses: false });
    expect(events.flatMap((event) => (event.kind === 'unit' ? [event.unit] : []))).toEqual([4]);
    expect([3, 5].map((unit) => asked.filter((one) => one === unit).length)).toEqual([1, 3]);
  });
});

describe('behind a gateway', () => {
  let server: ModbusTcpServer;
  let line: VirtualLine;
  const open = () => new TcpTransport('127.0.0.1', server.port);
  beforeEach(async () => {
    // Answers of two that are asked at once last so long that they meet, also where this process gets its turn late.
    line = new VirtualLine({ ...settings, baud: 9600 });
    for (const unitId of [3, 9, 7, 7]) new LineServer(line, device, { unitId, delayMs: 0 }).start();
    const respond = gatewayResponder(new LineTransport(line), { timeoutMs: GATEWAY_WAITS_MS });
    server = new ModbusTcpServer(respond, { host: '127.0.0.1', port: 0, connections: 4 });
    await server.start();
  });
  afterEach(async () => {
    await server.stop();
    line.close();
  });

  it('a sweep finds exactly the units that are there, and two with one ID as damaged', async () => {
    const sweep = {
      first: 1,
      last: 12,
      timeoutMs: 500,
      silentMs: GATEWAY_WAITS_MS,
      gatewayWaitsMs: GATEWAY_WAITS_MS,
      pauseMs: 0,
      designed: nobody,
      look,
      open,
    };
    const events = await all(sweepUnits(sweep));
    expect(events[0]).toEqual({ kind: 'forecast', worstMs: 12 * GATEWAY_WAITS_MS, total: 12, pauses: false });
    expect(events.flatMap((event) => (event.kind === 'unit' ? [`${event.unit} ${event.state}`] : []))).toEqual([
      '3 answers',
      '7 damaged',
      '9 answers',
    ]);
    expect(events.find((event) => event.kind === 'unit')).toEqual(
      jasmine.objectContaining({ identity: 'Stand-in, fan drive, 1.0 (function 43/14)' }),
    );
    expect(events.at(-1)).toEqual(jasmine.objectContaining({ kind: 'done', found: 3 }));
  });

  it('a sweep looks at the registers of what answers, and takes what the gateway says for no answer of the device', async () => {
    const seen: unknown[] = [];
    const spans = [
      { first: 0, count: 4 },
      { first: 3, count: 2 },
    ] as const;
    const asking: LookAtRegisters = async ({ place, identity, gives }) => {
      for (const span of spans) seen.push(await gives({ table: 'holding', ...span }));
      line.close();
      seen.push(place, identity, await gives({ table: 'holding', first: 1, count: 1 }));
      return { like: [], sentence: 'Four registers.' };
    };
    const waits = { timeoutMs: 500, silentMs: GATEWAY_WAITS_MS, gatewayWaitsMs: GATEWAY_WAITS_MS, pauseMs: 0, designed: nobody };
    const events = await all(sweepUnits({ first: 9, last: 9, ...waits, look: asking, open }));
    expect(seen).toEqual([true, false, { unitId: 9 }, 'Stand-in, fan drive, 1.0 (function 43/14)', null]);
    expect(events[1]).toEqual(jasmine.objectContaining({ registers: { like: [], sentence: 'Four registers.' } }));
  });

  it('a sweep that leaves the line to others in between says so, and takes as long as it forecast', async () => {
    const pauseMs = 2 * GATEWAY_WAITS_MS;
    const sweep = {
      first: 30,
      last: 35,
      timeoutMs: 500,
      silentMs: GATEWAY_WAITS_MS,
      gatewayWaitsMs: GATEWAY_WAITS_MS,
      pauseMs,
      designed: nobody,
      look,
      open,
    };
    const events = await all(sweepUnits(sweep));
    expect(events[0]).toEqual({ kind: 'forecast', worstMs: 6 * 3 * GATEWAY_WAITS_MS, total: 6, pauses: true });
    const done = events.at(-1) as Extract<ProveEvent, { kind: 'done' }>;
    expect(done.tookMs).toBeGreaterThanOrEqual(6 * 3 * GATEWAY_WAITS_MS - 10);
  });

  it('a sweep that is left ends at once and closes its connection', async () => {
    const sweep = sweepUnits({
      first: 100,
      last: 200,
      timeoutMs: 500,
      silentMs: 1,
      gatewayWaitsMs: GATEWAY_WAITS_MS,
      pauseMs: 0,
      designed: nobody,
      look,
      open,
    });
    await sweep.next();
    await sweep.next();
    const from = performance.now();
    await sweep.return(undefined);
    expect(performance.now() - from).toBeLessThan(400);
  });

  const walk = (unit: number, port = server.port, offset = 0) =>
    all(
      reachDevice({
        name: 'Fan drive',
        unit,
        timeoutMs: 500,
        socket: { host: '127.0.0.1', port, network: '127.0.0.0/8 of lo' },
        gateway: { name: 'Kiln gateway', waitsMs: GATEWAY_WAITS_MS },
        register: { functionCode: 3, offset, what: 'Speed' },
        openTransactions: null,
        open,
      }),
    );
  const told = (events: ProveEvent[]) => events.map((event) => (event.kind === 'step' ? `${event.name} ${event.passed}` : event.kind));

  it('a walk to a device passes every step to its register', async () => {
    const events = await walk(3);
    expect(told(events)).toEqual(['network true', 'connect true', 'answer true', 'identify true', 'register true']);
    expect(events.at(-1)).toEqual(jasmine.objectContaining({ sentence: 'Speed holds 0.' }));
  });

  it('a walk ends at the first step that fails and says what it means', async () => {
    expect(told(await walk(3, 1))).toEqual(['network true', 'connect false']);
    const silent = await walk(50);
    expect(told(silent)).toEqual(['network true', 'connect true', 'answer false']);
    expect(silent.at(-1)).toEqual(
      jasmine.objectContaining({ sentence: jasmine.stringContaining('asked unit 50 on its line and got no answer') }),
    );
    expect((await walk(3, server.port, 400)).at(-1)).toEqual(
      jasmine.objectContaining({ passed: false, sentence: jasmine.stringContaining('exception 2') }),
    );
  });
});

describe('a sweep of addresses', () => {
  it('finds a server among 254 addresses, tells it from a plain socket, and leaves nothing open', async () => {
    const server = new ModbusTcpServer(device, { host: '127.0.0.1', port: 0, connections: 4 });
    await server.start();
    const closings: Promise<unknown>[] = [];
    const other = createServer((socket) => {
      closings.push(
        new Promise((closed) =>
          socket
            .resume()
            .on('error', () => undefined)
            .once('close', closed),
        ),
      );
    });
    await new Promise<void>((done) => other.listen(server.port, '127.0.0.77', done));
    const hosts = Array.from({ length: 254 }, (_, index) => ({ ip: `10.0.0.${index + 1}`, dial: `127.0.0.${index + 1}` }));
    const events = await all(
      sweepHosts({ hosts, ports: [{ port: 502, dial: server.port }], mayBe: () => true, timeoutMs: 300, parallel: 64, look }),
    );
    const found = events.flatMap((event) => (event.kind === 'host' ? [`${event.ip} ${event.state}`] : []));
    expect(found.sort()).toEqual(['10.0.0.1 answers', '10.0.0.77 open']);
    expect(events.at(-1)).toEqual(jasmine.objectContaining({ kind: 'done', found: 2 }));
    await server.stop();
    await Promise.all(closings);
    expect(closings.length).toBe(2);
    await new Promise<void>((done) => other.close(() => done()));
  });
});

describe('a search for settings', () => {
  it('finds those at which a device gives a valid frame', async () => {
    const line = new VirtualLine(settings);
    const set: SerialSettings = { ...settings, parity: 'none' };
    new LineServer(line, device, { unitId: 12, delayMs: 0, settings: set }).start();
    const candidates: SerialSettings[] = [settings, { ...settings, parity: 'odd' }, set, { ...set, baud: 9600 }];
    const events = await all(searchSettings({ unit: 12, candidates, timeoutMs: 400, open: (tried) => new LineTransport(line, tried) }));
    expect(events.flatMap((event) => (event.kind === 'settings' && event.valid ? [event.text] : []))).toEqual(['115200 8N1']);
    line.close();
  });
});
