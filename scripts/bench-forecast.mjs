// What the forecast says of the demo beside what the runner measures of it on the stand-ins, in one run.
// Usage: node scripts/bench-forecast.mjs [seconds]
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { mendedFernhollow } from '../core/dist/demo/index.js';
import { forecast } from '../core/dist/forecast/index.js';
import { requestPdu } from '../core/dist/frame/index.js';
import { compile } from '../core/dist/compile/index.js';
import { Runner } from '../engine/dist/runner/index.js';
import { TcpTransport } from '../engine/dist/links/index.js';
import { ratio } from './ratio.mjs';

const PORT = 15_621;
/** Agreed is what differs by no more than this part, or this much. */
const TOLERANCE = { part: 0.05, ms: 3 };

async function compare(title, document, dead, seconds) {
  const { plan } = compile(document);
  const plant = fork(fileURLToPath(new URL('bench-plant.mjs', import.meta.url)), [String(PORT)]);
  plant.send({ document, dead });
  await new Promise((done, failed) => {
    plant.once('message', done);
    plant.once('exit', () => failed(new Error('The stand-ins did not start.')));
  });
  const runner = new Runner(({ standInAddress }) => new TcpTransport(standInAddress, PORT));
  const [requests, routes] = [new Map(), new Map()];
  runner.start(plan);
  const collecting = setInterval(() => {
    const batch = runner.collect();
    for (const row of batch.requests) requests.set(row.id, row);
    for (const row of batch.routes) routes.set(row.routeId, row);
  }, 100);
  await new Promise((done) => setTimeout(done, seconds * 1000));
  clearInterval(collecting);
  const sent = sentBeside(plan, runner);
  runner.stop();
  plant.kill();
  await new Promise((done) => plant.once('exit', done));

  const said = forecast(document, plan, { horizonMs: seconds * 1000, dead, backsOff: true });
  const byId = new Map(plan.requests.map((request) => [request.id, request]));
  const names = new Map(plan.routes.map((route) => [route.id, route.name]));
  const periods = said.requests.map(({ id, meanPeriodMs }) => {
    const { deviceName, functionCode, offset, count } = byId.get(id);
    return [`${deviceName} fn ${functionCode} ${offset}+${count}`, meanPeriodMs, requests.get(id)?.pace?.meanPeriodMs ?? null];
  });
  const ages = said.routes.map(({ id, age }) => [names.get(id), age?.worstMs ?? null, routes.get(id)?.age?.worstMs ?? null]);
  console.log(`${title}, ${seconds} s`);
  console.log(`  ${sent}`);
  summary('mean period of a request', periods);
  summary('worst age of a value', ages);
}

/** Compares each frame of the trace with the request of the plan that it is of; what a write carries is its sources' affair. */
function sentBeside(plan, runner) {
  const byId = new Map(plan.requests.map((request) => [request.id, request]));
  const { matching, records } = runner.trace.find({}, { upTo: null, from: 0, count: Infinity });
  const strange = records.filter(({ requestId, sent, framing }) => {
    if (!sent) return false;
    const request = byId.get(requestId);
    if (!request) return true;
    const { functionCode, offset, count, kind, also, unitId, partial, release } = request;
    // Parts of a write, and a release beside it, are requests of their own within it.
    if (partial || release) return false;
    const values = kind === 'write' ? { values: new Array(count).fill(0) } : {};
    const planned = requestPdu({ functionCode, offset, count, ...values, ...(also ? { also } : {}) });
    const own = framing === 'tcp' ? sent.subarray(6) : sent;
    const head = { 5: 3, 6: 3, 23: 10 }[functionCode] ?? 5;
    return own[0] !== unitId || planned.subarray(0, head).some((byte, index) => byte !== own[index + 1]);
  });
  const of = new Set(records.map(({ requestId }) => requestId)).size;
  return `sent: ${matching} frames of ${of} requests, ${strange.length} of them other than planned`;
}

function summary(what, rows) {
  const both = rows.filter(([, said, seen]) => said !== null && seen !== null);
  const off = both.filter(([, said, seen]) => Math.abs(said - seen) > Math.max(TOLERANCE.ms, TOLERANCE.part * said));
  const oneSided = rows.filter(([, said, seen]) => (said === null) !== (seen === null));
  const ratios = both.map(([, said, seen]) => seen / said).sort((a, b) => a - b);
  const at = (part) => ratios[Math.floor(part * (ratios.length - 1))]?.toFixed(3);
  console.log(
    `  ${what}: ${both.length - off.length} of ${both.length} within 5 % or 3 ms; measured ÷ forecast ${at(0)} … ${at(0.5)} … ${at(1)}`,
  );
  ratio(`measured ${what} ÷ its forecast, median`, ratios[Math.floor(ratios.length / 2)]);
  for (const [name, said, seen] of off) console.log(`    ${name}: forecast ${said.toFixed(1)} ms, measured ${seen.toFixed(1)} ms`);
  for (const [name, said, seen] of oneSided)
    console.log(`    ${name}: forecast ${said?.toFixed(1) ?? 'never'}, measured ${seen?.toFixed(1) ?? 'never'}`);
}

const seconds = Number(process.argv[2] ?? 60);
const healthy = mendedFernhollow();
const dead = healthy.devices.find(({ name }) => name === 'Fan drive north').id;
await compare('Healthy, with the 3 % that its wireless link loses', healthy, [], seconds);
await compare('Fan drive north dead', healthy, [dead], seconds);
