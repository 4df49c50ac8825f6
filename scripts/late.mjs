// Thousands of exchanges with a device whose answers come now before, now after their timeout: on a pair of serial ports, on RTU
// over TCP, and behind a gateway on a simulated line. Not one value may be wrong, and not one write confirmed that was not done.
// It talks to loopback only and ends by itself. Usage: node scripts/late.mjs [exchanges for each] [seed]
import { ChannelTransport, LineTransport, openSerialPort, openSocket, TcpTransport, VirtualLine } from '../engine/dist/links/index.js';
import { askLateDevice, LateDevice } from '../engine/dist/links/late.spec-helper.js';
import { ChannelServer, LineServer, ModbusTcpServer, RtuOverTcpServer } from '../engine/dist/server/index.js';
import { gatewayResponder } from '../engine/dist/gateway/index.js';
import { cable } from '../engine/dist/cable.spec-helper.js';

const exchanges = Number(process.argv[2] ?? 10_000);
const seed = Number(process.argv[3] ?? Math.floor(Math.random() * 2 ** 31));
const UNIT = 9;
const TIMEOUT_MS = 16;
const settings = { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 };
const local = { host: '127.0.0.1', port: 0, connections: 2 };

let state = seed;
const random = () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/** Each way to the device, and how it is taken down again. `late` is called for each answer that nobody waited for. */
const places = {
  'a serial port': async (respond, late) => {
    const pair = await cable();
    const server = new ChannelServer(await openSerialPort(pair.b, settings), respond, 'rtu');
    const transport = new ChannelTransport(() => openSerialPort(pair.a, settings), 'rtu', 2);
    transport.onStray = late;
    return { transport, end: async () => (transport.close(), server.stop(), pair.cut()) };
  },
  'RTU over TCP': async (respond, late) => {
    const server = new RtuOverTcpServer(respond, local);
    await server.start();
    const transport = new ChannelTransport(() => openSocket('127.0.0.1', server.port), 'rtu');
    transport.onStray = late;
    return { transport, end: async () => (transport.close(), server.stop()) };
  },
  'behind a gateway': async (respond, late) => {
    const line = new VirtualLine(settings);
    new LineServer(line, respond, { unitId: UNIT, delayMs: 0 }).start();
    const asks = new LineTransport(line);
    asks.onStray = late;
    const server = new ModbusTcpServer(gatewayResponder(asks, { timeoutMs: TIMEOUT_MS }), local);
    await server.start();
    const transport = new TcpTransport('127.0.0.1', server.port);
    return { transport, end: async () => (transport.close(), await server.stop(), line.close()), timeoutMs: 4000 };
  },
};

console.log(`${exchanges} exchanges in each place, timeout ${TIMEOUT_MS} ms, delays of half to one and a half of it, seed ${seed}`);
let failed = 0;
for (const [name, open] of Object.entries(places)) {
  const device = new LateDevice(random, { fromMs: 0.5 * TIMEOUT_MS, toMs: 1.5 * TIMEOUT_MS });
  const respond = async (_unit, pdu) => {
    const answer = device.answer(pdu);
    await pause(device.delayMs());
    return answer;
  };
  let [late, worstMs] = [0, 0];
  const {
    transport,
    end,
    timeoutMs = TIMEOUT_MS,
  } = await open(respond, (_frame, afterMs) => {
    late += 1;
    worstMs = Math.max(worstMs, afterMs);
  });
  const from = performance.now();
  const { answered, wrong } = await askLateDevice(transport, device, { exchanges, random, unitId: UNIT, timeoutMs, tries: 2 });
  await end();
  const seconds = ((performance.now() - from) / 1000).toFixed(0);
  console.log(
    `  ${name}: ${answered} answered, ${late} late, the latest after ${worstMs.toFixed(0)} ms, ${wrong.length} wrong; ${seconds} s`,
  );
  for (const sentence of wrong.slice(0, 5)) console.log(`    ${sentence}`);
  failed += wrong.length;
}
process.exit(failed ? 1 : 0);
