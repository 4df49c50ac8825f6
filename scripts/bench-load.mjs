// How many transactions a second the runner holds, how punctually, and with how much of a core: 100 connections to servers in
// a process of their own, each asked five times in every 100 ms. Beside it, the same requests sent as fast as they are answered.
// Garbage is collected as in the engine’s thread: see the flags in engine/package.json.
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { ask } from '../engine/dist/client/index.js';
import { Runner } from '../engine/dist/runner/index.js';
import { ModbusTcpServer, answerPdu, RegisterBank } from '../engine/dist/server/index.js';
import { TcpTransport } from '../engine/dist/links/index.js';
import { ratio } from './ratio.mjs';

const CONNECTIONS = 100;
const REQUESTS_EACH = 5;
const PERIOD_MS = 100;
const SECONDS = 20;
const SETTLE_MS = 2000;

if (process.argv[2] === 'serve') await serve();
else await measure();

async function serve() {
  const bank = new RegisterBank({ holding: 200 });
  const ports = [];
  for (let index = 0; index < CONNECTIONS; index++) {
    const server = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.0.0.1', port: 0, connections: 2 });
    await server.start();
    ports.push(server.port);
  }
  process.send(ports);
  process.on('disconnect', () => process.exit());
}

/** Plain reads of ten registers, as the planner would make them. */
function planFor(ports, stepMs) {
  const like = { framing: 'tcp', ip: '127.0.0.1', standInAddress: '127.0.0.1', concurrent: 4 };
  const phaseOf = (index) => (index * stepMs) % PERIOD_MS;
  const endpoints = ports.map((tcpPort, index) => ({ ...like, id: `device ${index}`, name: `Device ${index}`, tcpPort }));
  const requests = endpoints.flatMap(({ id, name }, place) =>
    Array.from({ length: REQUESTS_EACH }, (_, index) => ({
      ...{ id: `${id} ${index}`, kind: 'read', carrierId: null, local: false, endpointId: id, deviceId: id, deviceName: name, unitId: 255 },
      ...{
        functionCode: 3,
        functionCodes: [3],
        also: null,
        withId: null,
        table: 'holding',
        offset: index * 20,
        count: 10,
        roundId: 'round',
        partial: null,
        release: null,
      },
      ...{ periodMs: PERIOD_MS, phaseMs: phaseOf(place), pauseMs: null, priority: 1, delayMs: 0, timeoutMs: 1000, tries: 2 },
      points: [{ pointId: `${id} ${index}`, at: 0, width: 10 }],
    })),
  );
  return { endpoints, requests, routes: [] };
}

async function measure() {
  const servers = fork(fileURLToPath(import.meta.url), ['serve']);
  const ports = await new Promise((done) => servers.once('message', done));
  console.log(`The runner over ${CONNECTIONS} connections, ${CONNECTIONS * REQUESTS_EACH} requests each ${PERIOD_MS} ms, ${SECONDS} s`);
  const rate = await held('all released at once', planFor(ports, 0));
  await held('each connection 1 ms after the one before, by its phase', planFor(ports, 1));
  const plain = await flatOut(ports);
  console.log(`  as fast as they are answered, without a schedule: ${plain.toFixed(0)} a second`);
  ratio(
    'transactions of 500 requests each 100 ms ÷ the 5 000 a second that are due',
    rate / (REQUESTS_EACH * CONNECTIONS * (1000 / PERIOD_MS)),
  );
  servers.kill();
}

async function held(how, plan) {
  const runner = new Runner(({ tcpPort }) => new TcpTransport('127.0.0.1', tcpPort));
  runner.start(plan);
  await new Promise((done) => setTimeout(done, SETTLE_MS));
  const starts = new Map();
  const collect = () => {
    for (const { id, pace } of runner.collect().requests) {
      const known = starts.get(id) ?? [];
      known.push(...pace.recent.map(({ fromMs }) => fromMs).filter((fromMs) => fromMs > (known.at(-1) ?? 0)));
      starts.set(id, known);
    }
  };
  const collecting = setInterval(collect, 100);
  const [cpu, from] = [process.cpuUsage(), performance.now()];
  await new Promise((done) => setTimeout(done, SECONDS * 1000));
  const used = process.cpuUsage(cpu);
  const seconds = (performance.now() - from) / 1000;
  clearInterval(collecting);
  collect();
  runner.stop();

  const sinceMs = performance.timeOrigin + from;
  const within = [...starts.values()].map((of) => of.filter((at) => at >= sinceMs));
  const jitter = within.flatMap((of) => of.slice(1).map((at, index) => Math.abs(at - of[index] - PERIOD_MS))).sort((a, b) => a - b);
  const at = (part) => jitter[Math.floor(part * (jitter.length - 1))].toFixed(1);
  const rate = within.reduce((sum, of) => sum + of.length, 0) / seconds;
  const cores = (used.user + used.system) / 1e6 / seconds;
  console.log(
    `  ${how}: ${rate.toFixed(0)} transactions a second, ${cores.toFixed(2)} cores; off its period by ${at(0.5)} ms (median), ${at(0.99)} ms (p99)`,
  );
  return rate;
}

/** The peer: each connection asks again as soon as it is answered. */
async function flatOut(ports) {
  const until = performance.now() + 3000;
  let count = 0;
  await Promise.all(
    ports.map(async (port) => {
      const transport = new TcpTransport('127.0.0.1', port);
      while (performance.now() < until) {
        await ask(transport, { functionCode: 3, offset: 0, count: 10, unitId: 255, timeoutMs: 1000, tries: 1 });
        count += 1;
      }
      transport.close();
    }),
  );
  return count / 3;
}
