// The whole demo for a while with faults that come and go: memory stays flat, no try goes uncounted, nothing throws, and in the
// end every route delivers. Loopback only; ends by itself. Usage: node --expose-gc scripts/soak.mjs [seconds]
import { mendedFernhollow } from '../core/dist/demo/index.js';
import { blankFaults, triesIn } from '../core/dist/feed/index.js';
import { compile } from '../core/dist/compile/index.js';
import { wiringOf } from '../core/dist/playing/index.js';
import { Runner } from '../engine/dist/runner/index.js';
import { TcpTransport } from '../engine/dist/links/index.js';
import { Plant } from '../standins/dist/plant/index.js';
import { freePort } from './ports.mjs';

const seconds = Number(process.argv[2] ?? 600);
const LOOK_EACH_MS = 10_000;
const FAULT_EACH_MS = 1500;
const SETTLE_MS = 30_000;

const document = mendedFernhollow();
const { plan } = compile(document);
const port = await freePort('127.40.8.10');
const plant = new Plant(wiringOf(document), port);
await plant.start();
const runner = new Runner(({ standInAddress }) => new TcpTransport(standInAddress, port));
const unhandled = [];
process.on('unhandledRejection', (error) => unhandled.push(String(error)));
process.on('uncaughtException', (error) => unhandled.push(String(error)));

const [devices, routes] = [new Map(), new Map()];
const collect = () => {
  const batch = runner.collect();
  for (const row of batch.devices) devices.set(row.id, { ...row, exceptions: { ...row.exceptions } });
  for (const row of batch.routes) routes.set(row.routeId, row.quality);
};
let traced = 0;
const add = runner.trace.add.bind(runner.trace);
runner.trace.add = (record) => {
  if (record.end !== 'late') traced += 1;
  add(record);
};
runner.start(plan);
const collecting = setInterval(collect, 100);

const asked = [...new Set(plan.requests.map(({ deviceId }) => deviceId))];
let state = 1;
const random = () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
const pick = (items) => items[Math.floor(random() * items.length)];
let made = 0;
const faults = setInterval(() => {
  const deviceId = pick(asked);
  made += 1;
  if (random() < 0.1) void plant.reboot(deviceId, 500);
  else plant.setFaults(deviceId, random() < 0.4 ? [] : [pick(Object.values(blankFaults))]);
}, FAULT_EACH_MS);

const heaps = [];
const looking = setInterval(() => {
  globalThis.gc?.();
  heaps.push(process.memoryUsage().heapUsed / 2 ** 20);
}, LOOK_EACH_MS);
await new Promise((done) => setTimeout(done, seconds * 1000));
clearInterval(faults);
clearInterval(looking);
for (const deviceId of asked) plant.setFaults(deviceId, []);
await new Promise((done) => setTimeout(done, SETTLE_MS));
clearInterval(collecting);
collect();
const counted = [...devices.values()].reduce((sum, row) => sum + triesIn(row), 0);
const seen = traced;
runner.stop();
await plant.stop();

const part = (from, to) => heaps.slice(Math.floor(from * heaps.length), Math.ceil(to * heaps.length));
const mean = (values) => values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
const good = [...routes.values()].filter((quality) => quality === 'good').length;
console.log(`The demo for ${seconds} s with ${made} faults that came and went`);
console.log(`  exchanges ${seen}, counted ${counted}, of which none is lost: ${Math.abs(seen - counted) === 0}`);
console.log(`  heap ${mean(part(0.25, 0.5)).toFixed(1)} MB in the second quarter, ${mean(part(0.75, 1)).toFixed(1)} MB in the last`);
console.log(
  `  unhandled errors: ${unhandled.length}${unhandled.length ? ` ${unhandled[0]}` : ''}; in the end ${good} of ${plan.routes.length} routes deliver`,
);
process.exit(unhandled.length ? 1 : 0);
