// What the forecast says of the demo beside what the runner measures of it on the stand-ins, in one run, as far as a bare timer was on
// time meanwhile: what a machine that stalls makes late no forecast can know.
// Usage: node scripts/bench-forecast.mjs [seconds]
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { mendedFernhollow } from '../core/dist/demo/index.js';
import { forecast } from '../core/dist/forecast/index.js';
import { requestPdu } from '../core/dist/frame/index.js';
import { compile } from '../core/dist/compile/index.js';
import { Runner } from '../engine/dist/runner/index.js';
import { TcpTransport } from '../engine/dist/links/index.js';
import { onTime, startBareTimer } from './bare-timer.mjs';
import { ratio } from './ratio.mjs';

const PORT = 15_621;
/** Agreed is what differs by no more than this part, or this much. */
const TOLERANCE = { part: 0.05, ms: 3 };
/** So often that no run and no arrival is missed between two looks. */
const LOOK_MS = 20;

async function compare(title, document, dead, seconds) {
  const { plan } = compile(document);
  const plant = fork(fileURLToPath(new URL('bench-plant.mjs', import.meta.url)), [String(PORT)]);
  plant.send({ document, dead });
  await new Promise((done, failed) => {
    plant.once('message', done);
    plant.once('exit', () => failed(new Error('The stand-ins did not start.')));
  });
  const runner = new Runner(({ standInAddress }) => new TcpTransport(standInAddress, PORT));
  const timer = startBareTimer();
  const [runs, arrivals] = [new Map(), new Map()];
  runner.start(plan);
  const looking = setInterval(() => {
    const batch = runner.collect();
    for (const { id, pace } of batch.requests) {
      for (const { fromMs } of pace?.recent ?? []) {
        if (!(runs.get(id)?.at(-1).toMs >= fromMs)) append(runs, id, { fromMs, toMs: fromMs });
      }
    }
    for (const { routeId, sourceAtMs, writtenAtMs } of batch.routes) {
      if (sourceAtMs === null || arrivals.get(routeId)?.at(-1).toMs === writtenAtMs) continue;
      append(arrivals, routeId, { fromMs: sourceAtMs, toMs: writtenAtMs });
    }
  }, LOOK_MS);
  await new Promise((done) => setTimeout(done, seconds * 1000));
  clearInterval(looking);
  const isOnTime = onTime(await timer.beats());
  timer.end();
  const sent = sentBeside(plan, runner);
  runner.stop();
  plant.kill();
  await new Promise((done) => plant.once('exit', done));

  const said = forecast(document, plan, { horizonMs: seconds * 1000, dead, backsOff: true });
  const byId = new Map(plan.requests.map((request) => [request.id, request]));
  const names = new Map(plan.routes.map((route) => [route.id, route.name]));
  const periods = said.requests.map(({ id, meanPeriodMs }) => {
    const { deviceName, functionCode, offset, count } = byId.get(id);
    const seen = spans(runs.get(id), isOnTime);
    // No number where the machine was never on time.
    const mean = seen && seen.reduce((sum, ms) => sum + ms, 0) / seen.length;
    return [`${deviceName} fn ${functionCode} ${offset}+${count}`, meanPeriodMs, mean];
  });
  const ages = said.routes.map(({ id, age }) => {
    // What changes just after a value was asked for comes with the next one.
    const seen = spans(arrivals.get(id), isOnTime);
    return [names.get(id), age?.worstMs ?? null, seen && (seen.length > 0 ? Math.max(...seen) : NaN)];
  });
  console.log(`${title}, ${seconds} s`);
  console.log(`  ${sent}`);
  summary('mean period of a request', periods);
  summary('worst age of a value', ages);
}

/**
 * How long it was from the beginning of each of what was seen to the end of the next, ms, where the machine was on time all the while, and as long before it: what
 * was late makes what comes after it early. Null where nothing followed anything at all.
 */
function spans(seen, isOnTime) {
  if (!seen || seen.length < 2) return null;
  return seen.slice(1).flatMap(({ toMs }, index) => {
    const ms = toMs - seen[index].fromMs;
    return isOnTime(toMs - 2 * ms, toMs) ? [ms] : [];
  });
}

function append(lists, key, one) {
  const list = lists.get(key);
  if (list) list.push(one);
  else lists.set(key, [one]);
}

/** The same, but what is written only where it has changed is written each time, so that from outside each arrival is seen. */
function eachTime(document) {
  const each = (route) => ({ ...route, onlyDifferent: false, trigger: route.trigger.on === 'change' ? { on: 'round' } : route.trigger });
  return { ...document, routes: document.routes.map(each) };
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
  const isCompared = ([, said, seen]) => said !== null && seen !== null && !Number.isNaN(seen);
  const both = rows.filter(isCompared);
  const never = rows.filter(([, , seen]) => Number.isNaN(seen)).length;
  const off = both.filter(([, said, seen]) => Math.abs(said - seen) > Math.max(TOLERANCE.ms, TOLERANCE.part * said));
  const oneSided = rows.filter(([, said, seen]) => !Number.isNaN(seen) && (said === null) !== (seen === null));
  if (both.length === 0) return console.log(`  ${what}: nothing to compare, for the machine was never on time`);
  const ratios = both.map(([, said, seen]) => seen / said).sort((a, b) => a - b);
  const at = (part) => ratios[Math.floor(part * (ratios.length - 1))]?.toFixed(3);
  console.log(
    `  ${what}: ${both.length - off.length} of ${both.length} within 5 % or 3 ms; measured ÷ forecast ${at(0)} … ${at(0.5)} … ${at(1)}${never ? `; of ${never} the machine was never on time` : ''}`,
  );
  ratio(`measured ${what} ÷ its forecast, median`, ratios[Math.floor(ratios.length / 2)]);
  for (const [name, said, seen] of off) console.log(`    ${name}: forecast ${said.toFixed(1)} ms, measured ${seen.toFixed(1)} ms`);
  for (const [name, said, seen] of oneSided)
    console.log(`    ${name}: forecast ${said?.toFixed(1) ?? 'never'}, measured ${seen?.toFixed(1) ?? 'never'}`);
}

const seconds = Number(process.argv[2] ?? 60);
const healthy = eachTime(mendedFernhollow());
const dead = healthy.devices.find(({ name }) => name === 'Fan drive north').id;
await compare('Healthy, with the 3 % that its wireless link loses', healthy, [], seconds);
await compare('Fan drive north dead', healthy, [dead], seconds);
