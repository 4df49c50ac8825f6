// How much the plan saves on the line, and how fast it is made, each beside a plain way of doing the same.
import { fernhollow } from '../core/dist/demo/index.js';
import { forecast } from '../core/dist/forecast/index.js';
import { functionOf } from '../core/dist/frame/index.js';
import { differencesBetween } from '../core/dist/handover/index.js';
import { lineTime } from '../core/dist/line/index.js';
import { blankDevice } from '../core/dist/model/index.js';
import { compile, compiler } from '../core/dist/compile/index.js';
import { routeBetween } from '../core/dist/making/index.js';
import { reckon } from '../core/dist/reckoner/index.js';
import { planPoints } from '../core/dist/plan/index.js';
import { playedPoints, variablesOf } from '../core/dist/playing/index.js';
import { compileProgram } from '../core/dist/program/index.js';
import { Telegram } from '../core/dist/telegram/index.js';
import { readTelegrams } from '../core/dist/telegram-text/index.js';
import { ratio } from './ratio.mjs';

const demo = fernhollow();

/** All requests once, as time on each serial line, ms. */
function onTheLines(requests) {
  const lineOf = new Map(demo.ports.filter(({ kind }) => kind === 'serial').map((port) => [port.deviceId, port.lineId]));
  const total = new Map();
  for (const { deviceId, functionCode, count } of requests) {
    const line = demo.lines.find(({ id }) => id === lineOf.get(deviceId));
    if (!line) continue;
    const { totalMs } = lineTime({ settings: line, framing: 'rtu', functionCode, count, responseDelayMs: 5 });
    total.set(line.name, (total.get(line.name) ?? 0) + totalMs);
  }
  return total;
}

/** One request for each point, and one for each run of adjacent registers, in place of those of the plan. */
function otherwise(requests, isJoined) {
  return requests.flatMap((request) => {
    const extents = request.points.map(({ at, width }) => ({ at, width })).sort((a, b) => a.at - b.at);
    const runs = [];
    for (const { at, width } of extents) {
      const last = runs.at(-1);
      if (isJoined && last && at <= last.at + last.width) last.width = Math.max(last.width, at + width - last.at);
      else runs.push({ at, width });
    }
    const known = functionOf(request.functionCode);
    return runs.map(({ at, width }) => {
      const one = known.kind === 'write-many' && width === 1 ? (known.bits ? 5 : 6) : request.functionCode;
      return { ...request, offset: request.offset + at, count: width, functionCode: one };
    });
  });
}

const { plan } = compile(demo);
const own = plan.requests.filter(({ local }) => !local);
console.log('Time on the line for one cycle of the demo, ms (and requests)');
for (const [name, requests] of [
  ['as planned', own],
  ['one for each run of adjacent registers', otherwise(own, true)],
  ['one for each point', otherwise(own, false)],
]) {
  const times = [...onTheLines(requests)].map(([line, ms]) => `${line} ${ms.toFixed(0)}`).join(', ');
  console.log(`  ${name.padEnd(40)} ${times} (${requests.length})`);
}

function timed(name, work, times = 5) {
  const each = Array.from({ length: times }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  });
  const best = Math.min(...each);
  console.log(`  ${name.padEnd(64)} first ${each[0].toFixed(0)} ms, best ${best.toFixed(0)} ms`);
  return best;
}

/** Adjacent runs only, as one would write it in an afternoon: sort, then join neighbours. */
function joinNeighbours(points) {
  const runs = [];
  for (const { offset, length } of [...points].sort((a, b) => a.offset - b.offset)) {
    const last = runs.at(-1);
    if (last && offset <= last.end && offset + length - last.offset <= 125) last.end = Math.max(last.end, offset + length);
    else runs.push({ offset, end: offset + length });
  }
  return runs;
}

console.log('Speed');
let seed = 7;
const random = (below) => ((seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31) * below;
const many = Array.from({ length: 20_000 }, (_, index) => ({
  id: String(index),
  table: 'holding',
  offset: Math.floor(random(65_000)),
  length: 1 + (index % 4),
}));
const best = timed('20 000 points planned at least cost', () => planPoints(many));
const plain = timed('20 000 points, neighbours joined only (the plain way)', () => joinNeighbours(many));
ratio('planning 20 000 points ÷ joining neighbours only', best / plain);

/** A hundred drives of the demo, each with its program of 45 lines; and the same ramp and words written out by hand. */
const drive = demo.devices.find(({ name }) => name === 'Fan drive north');
const points = variablesOf(playedPoints(demo, drive.id));
const programs = Array.from({ length: 100 }, () => compileProgram(drive.program, points).program);
const [COMMAND, TARGET, TOP] = ['Command_word', 'Speed_set_point', 'Top_speed'].map((name) =>
  points.findIndex((point) => point.name === name),
);
for (const { outer } of programs) {
  outer[COMMAND] = 3;
  outer[TARGET] = 400;
}
const byHand = programs.map(() => ({ words: [3, 400, 30, 75, 600], state: 'running', speed: 0, status: 0, current: 0 }));
const SCANS = 200;
const scanned = timed(`${SCANS} scans of 100 programs of ${drive.program.split('\n').length} lines`, () => {
  for (let scan = 0; scan < SCANS; scan++) for (const program of programs) program.scan(50);
});
const written = timed('the same by hand in JavaScript', () => {
  for (let scan = 0; scan < SCANS; scan++)
    for (const one of byHand) {
      const [command, target, timeout, ramp, top] = one.words;
      const on = (command & 1) !== 0;
      one.state = timeout > 0 && on ? ((command & 2) !== 0 ? 'running' : 'on') : 'ready';
      const goal = one.state === 'running' ? Math.min(target, top) : 0;
      const most = (top * 50) / (ramp * 100);
      one.speed = one.speed < goal ? Math.min(goal, one.speed + most) : Math.max(goal, one.speed - most);
      one.current = one.speed > 0 ? Math.round(21 + (one.speed / 600) ** 2 * 120) : 0;
      one.status =
        (one.state === 'ready' ? 1 : 0) | (on ? 3 : 0) | (one.state === 'running' ? 4 : 0) | (Math.round(one.speed) === target ? 16 : 0);
    }
});
ratio('programs ÷ by hand', scanned / written);
ratio('share of a core that 100 programs take at 50 ms', scanned / SCANS / 50);
if (programs[0].outer[TOP] !== 600) throw new Error('The drives did not run.');

/** A plant of 150 devices on Ethernet, 20 000 points and 5 000 routes between them. */
function largePlant() {
  const id = (kind, index) => `019aa000-0000-7000-8${kind}00-${String(index).padStart(12, '0')}`;
  const [first] = demo.devices;
  const net = demo.lines.find(({ kind }) => kind === 'ethernet');
  const portOf = demo.ports.find(({ kind, deviceId }) => kind === 'ethernet' && deviceId === first.id);
  const devices = Array.from({ length: 150 }, (_, index) => ({
    ...blankDevice(`Device ${index}`),
    id: id(1, index),
    projectId: first.projectId,
  }));
  const ports = devices.map(({ id: deviceId }, index) => ({
    ...portOf,
    id: id(2, index),
    deviceId,
    lineId: net.id,
    ip: `10.40.8.${index + 2}`,
  }));
  const like = demo.points.find(({ name }) => name === 'Damper set point');
  const points = Array.from({ length: 20_000 }, (_, index) => {
    const place = Math.floor(index / 150);
    return { ...like, id: id(3, index), deviceId: devices[index % 150].id, name: `Point ${index}`, offset: place * 2 + (place % 7) * 3 };
  });
  const routes = Array.from({ length: 5000 }, (_, index) =>
    routeBetween(points[index], points[index + 7501], { id: id(4, index), roundId: demo.rounds[index % demo.rounds.length].id }),
  );
  return { ...demo, devices, ports, points, routes, lines: [net] };
}
const large = largePlant();
const { requests } = compile(large).plan;
console.log(`  150 devices, ${large.points.length} points, ${large.routes.length} routes: ${requests.length} requests`);
const other = JSON.parse(JSON.stringify(large));
for (const point of other.points.filter((_, index) => index % 500 === 0)) point.unit = 'other';
const compared = timed('compared with itself as another, 40 points of it changed', () => differencesBetween(large, other));
const bothWritten = timed('both written out as JSON (the plain way to see whether they are the same)', () =>
  [large, other].map((one) => JSON.stringify(one)),
);
ratio('comparing two states of 20 000 points ÷ writing both out', compared / bothWritten);
const whole = timed('compiled as a whole', () => compile(large));
const again = compiler();
again(large);
let edited = large;
const edit = timed('compiled again after the edit of one point', () => {
  const points = [...edited.points];
  points[7] = { ...points[7], offset: points[7].offset + 1 };
  edited = { ...edited, points };
  again(edited);
});
const walk = timed('its document copied once (the yardstick)', () => structuredClone(large));
ratio('compiling 5 000 routes ÷ copying their document', whole / walk);
ratio('compiling again after an edit ÷ copying the document', edit / walk);

/** 12 lines, 2 000 requests, a minute of them. */
const periods = [100, 200, 500, 1000, 2000, 5000, 10_000];
const busy = {
  lines: Array.from({ length: 12 }, (_, index) => ({ id: `line ${index}`, concurrent: 1 + (index % 4) })),
  requests: Array.from({ length: 2000 }, (_, index) => ({
    ...{ id: `request ${index}`, line: `line ${index % 12}`, durationMs: 1 + (index % 9), periodMs: periods[index % periods.length] },
    ...{ priority: index % 9, timeoutMs: 500, tries: 2 },
  })),
  horizonMs: 60_000,
};
const spans = reckon('schedule', busy).value.spans.length;
const scheduled = timed(`2 000 requests on 12 lines scheduled over a minute, ${spans} spans`, () => reckon('schedule', busy));
const copied = timed('its spans copied once (the yardstick)', () => structuredClone(reckon('schedule', busy).value.spans).length);
ratio('scheduling 2 000 requests over a minute ÷ copying the spans', scheduled / Math.max(1, copied - scheduled));
const usual = { horizonMs: 60_000, dead: [], backsOff: true };
const demoPlan = compile(demo).plan;
timed('the forecast of the demo over a minute', () => forecast(demo, demoPlan, usual));

/** Random bytes as text, cut by each way in which a telegram ends: ten times as many take ten times as long, whatever they are. */
const numbers = [
  { name: 'weight', at: { from: 0, length: 8 }, kind: 'decimal' },
  { name: 'part', at: { separator: ',', number: 2 }, kind: 'integer' },
  { name: 'found', at: { pattern: '(a+)+b([0-9]+)' }, kind: 'text' },
];
const textOfAny = new Uint8Array(10_000_000).map(() => random(256));
const endings = {
  'an end mark': { end: ['0D'] },
  'a fixed length': { length: 24 },
  'a length field': { lengthField: { from: 0, length: 1, written: 'raw', adds: 1 } },
};
for (const [name, ending] of Object.entries(endings)) {
  const telegram = Telegram.parse({ ...ending, fields: numbers });
  const [all, tenth] = [10, 1].map((megabytes) =>
    timed(`${megabytes} MB of random bytes cut by ${name}`, () => readTelegrams(telegram, textOfAny.subarray(0, megabytes * 1_000_000)), 2),
  );
  ratio(`10 MB ÷ 1 MB, by ${name}`, all / tenth);
}
