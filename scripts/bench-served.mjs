// What a large plant costs the server: 150 devices, 5,000 routes and 20,000 points more. How punctually devices are asked, seen from the
// devices’ side, with no page, with ten, and while points are added by somebody; beside a bare timer of a process of its own, so that a
// machine that stalls is seen as such, and of what the machine let be on time by itself. What a page costs, and what memory is taken.
// Loopback only; ends by itself.
// Usage: node scripts/bench-served.mjs [seconds of each part]
import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { v7 as newId } from 'uuid';
import { WebSocket } from 'ws';
import { FeedReader } from '../core/dist/feed/index.js';
import { blankDevice, blankPoint, blankPort, DEMO_ID, plainRoute } from '../core/dist/model/index.js';
import { apiOf } from '../e2e/dist/api.js';
import { startEnvoy } from '../e2e/dist/start.js';
import { answerPdu, ModbusTcpServer, RegisterBank } from '../engine/dist/server/index.js';
import { bareTimer, nowMs, onTime, startBareTimer } from './bare-timer.mjs';
import { ratio } from './ratio.mjs';

const PAIRS = 75;
const ROUTES = 5000;
const MORE_POINTS = 20_000;
const PERIODS = [250, 1000, 5000];
const PAGES = 10;
/** What a page shows at a time. */
const SHOWN = 60;
/** So near to each other are questions that are on time. */
const NEAR_MS = 2;
/** As Linux counts the time of a process. */
const TICKS_A_SECOND = 100;
const sleep = (ms) => new Promise((done) => setTimeout(done, ms));
const own = fileURLToPath(import.meta.url);

const parts = { devices: serveDevices, pages: openPages };
const role = parts[process.argv[2]];
if (role) role();
else await measure(Number(process.argv[2] ?? 30));

/** A child of this file; what is asked of it is answered once. */
function child(part) {
  const started = fork(own, [part]);
  const ask = (message) => {
    started.send(message);
    return new Promise((done) => started.once('message', done));
  };
  return { ask, end: () => started.kill() };
}

function serveDevices() {
  /** When each request came in, ms since 1970, by device and request. */
  const heard = new Map();
  const start = async ({ addresses, port }) => {
    for (const host of addresses) {
      const bank = new RegisterBank({ holding: 200 });
      let moved = 0;
      const respond = (_unit, pdu) => {
        if (pdu[0] !== 3) return answerPdu(bank, pdu);
        const now = nowMs();
        const key = `${host} ${pdu[2]}`;
        const times = heard.get(key);
        if (times) times.push(now);
        else heard.set(key, [now]);
        for (let offset = 0; offset < 70; offset += 7) bank.set('holding', offset, (moved += 1) & 0xffff);
        return answerPdu(bank, pdu);
      };
      await new ModbusTcpServer(respond, { host, port, connections: 8 }).start();
    }
    return true;
  };
  const beats = bareTimer();
  process.on('message', async (message) => {
    if (message.addresses) return process.send(await start(message));
    process.send({ heard: [...heard.values()], beats: beats() });
    heard.clear();
  });
  process.on('disconnect', () => process.exit());
}

/** Pages as far as the server is concerned: each looks at a part of the routes, and at all devices. */
function openPages() {
  let bytes = 0;
  process.on('message', ({ address, watches }) => {
    if (!watches) {
      process.send(bytes);
      bytes = 0;
      return;
    }
    for (const watch of watches) {
      const socket = new WebSocket(`${address.replace('http', 'ws')}/api/projects/${DEMO_ID}/live`);
      socket.on('open', () => socket.send(JSON.stringify(watch)));
      socket.on('message', (data) => (bytes += data.length));
    }
    process.send(true);
  });
  process.on('disconnect', () => process.exit());
}

async function measure(seconds) {
  const start = await startEnvoy();
  const [devices, timer, pages] = [child('devices'), startBareTimer(), child('pages')];
  try {
    const api = apiOf(start.address);
    const { id } = (await api('GET', 'projects'))[0];
    const change = async (label, changes) => {
      for (let from = 0; from < changes.length; from += 5000) {
        const { revision: baseRevision } = await api('GET', `projects/${id}`);
        await api('POST', `projects/${id}/change-sets`, { label, baseRevision, changes: changes.slice(from, from + 5000) });
      }
    };
    const { document } = await api('GET', `projects/${id}`);
    const { changes, points, routes, addresses, deviceIds } = plant(document);
    await change('A large plant', changes);
    await devices.ask({ addresses, port: start.standInsPort });
    await api('POST', `projects/${id}/bench/run`, {});
    await sleep(8000);

    const { server } = start.notes();
    const part = async (name, meanwhile = () => undefined) => {
      await Promise.all([devices.ask({}), timer.beats(), pages.ask({})]);
      const [cpu, from] = [cpuOf(server), performance.now()];
      await Promise.all([sleep(seconds * 1000), meanwhile()]);
      const took = (performance.now() - from) / 1000;
      const cores = (cpuOf(server) - cpu) / took;
      const [{ heard, beats: theirs }, beats, bytes] = await Promise.all([devices.ask({}), timer.beats(), pages.ask({})]);
      const all = heard.flatMap(lateness);
      const isOnTime = onTime([...beats, ...theirs]);
      const calm = all.filter(({ dueMs, atMs }) => isOnTime(dueMs, atMs));
      const [late, bare] = [all.map(lateOf), beats.map(({ lateMs }) => lateMs)];
      const [own99, bare99] = [at(late, 0.99), at(bare, 0.99)];
      console.log(`  ${name}: ${cores.toFixed(2)} cores, ${memoryOf(server).toFixed(0)} MB`);
      console.log(`    ${late.length} questions, late by ${spread(late)}; the bare timer ${spread(bare)}`);
      console.log(
        `    ${calm.length} of them while that timer, and one in the process that plays the devices, were on time: ${spread(calm.map(lateOf))}`,
      );
      ratio(`lateness of questions, p99, ${name} ÷ that of a bare timer in the same time`, own99 / Math.max(1, bare99));
      return { cores, bytes: bytes / took };
    };
    console.log(`${2 * PAIRS} devices, ${ROUTES} routes, ${points.length + MORE_POINTS} points in the end; ${seconds} s each`);
    const alone = await part('no page');
    const watches = Array.from({ length: PAGES }, (_, page) => {
      const shown = routes.slice(page * SHOWN, (page + 1) * SHOWN);
      return new FeedReader().watch({
        points: shown.flatMap(({ sourceId, destinationId }) => [sourceId, destinationId]),
        routes: shown.map(({ id: routeId }) => routeId),
        devices: deviceIds,
      });
    });
    await pages.ask({ address: start.address, watches });
    await sleep(2000);
    const looked = await part(`${PAGES} pages`);
    const each = (looked.cores - alone.cores) / PAGES;
    const bytesEach = looked.bytes / PAGES;
    console.log(`  A page: ${(100 * each).toFixed(1)} % of a core, ${(bytesEach / 1000).toFixed(0)} kB a second`);
    ratio('what a page takes of a core ÷ 3 %', each / 0.03);
    ratio('bytes to a page ÷ 200 kB a second', bytesEach / 200_000);
    ratio(`memory of the server with ${PAGES} pages ÷ 400 MB`, memoryOf(server) / 400);
    const template = points[0];
    await part(`${PAGES} pages and ${MORE_POINTS} points added`, () =>
      change(
        'Points added',
        Array.from({ length: MORE_POINTS }, (_, index) => {
          const point = {
            ...template,
            id: newId(),
            name: `More ${index}`,
            deviceId: deviceIds[index % deviceIds.length],
            offset: 1000 + index,
          };
          return changeOf('point', point);
        }),
      ),
    );
  } finally {
    for (const one of [devices, timer, pages]) one.end();
    await start.stop();
  }
}

/** Pairs of devices on the process net, with routes from each register of the one to the same of the other. */
function plant(document) {
  const projectId = document.project.id;
  const net = document.lines.find(({ kind }) => kind === 'ethernet');
  const rounds = PERIODS.map((periodMs, index) => ({
    id: newId(),
    projectId,
    name: `Each ${periodMs}`,
    periodMs,
    phaseMs: 60 * index,
    pauseMs: null,
    priority: 1,
  }));
  const made = { changes: rounds.map((round) => changeOf('round', round)), points: [], routes: [], addresses: [], deviceIds: [] };
  const each = Math.ceil(ROUTES / PAIRS);
  const addDevice = (name, index) => {
    const device = { ...blankDevice(name), id: newId(), projectId };
    const standInAddress = `127.41.${index >> 7}.${1 + (index & 127)}`;
    const ids = { id: newId(), deviceId: device.id };
    const port = { ...blankPort(document, net, ids), ip: `10.41.${index >> 7}.${1 + (index & 127)}`, standInAddress, position: 20 + index };
    const points = Array.from({ length: each }, (_, offset) => ({
      ...blankPoint({ id: newId(), projectId, deviceId: device.id }),
      ...{ name: `${name} ${offset}`, offset },
    }));
    made.changes.push(changeOf('device', device), changeOf('port', port), ...points.map((point) => changeOf('point', point)));
    made.points.push(...points);
    made.addresses.push(standInAddress);
    made.deviceIds.push(device.id);
    return points;
  };
  for (let pair = 0; pair < PAIRS; pair++) {
    const [from, to] = [addDevice(`Source ${pair}`, 2 * pair), addDevice(`Copy ${pair}`, 2 * pair + 1)];
    from.forEach(({ id: sourceId, name }, index) => {
      if (made.routes.length === ROUTES) return;
      const roundId = rounds[Math.floor((index * rounds.length) / each)].id;
      const ends = { sourceId, destinationId: to[index].id, roundId };
      const route = { ...plainRoute, ...ends, id: newId(), projectId, name, note: '', carry: 'registers', maxAgeMs: 20_000 };
      made.routes.push(route);
      made.changes.push(changeOf('route', route));
    });
  }
  return made;
}

function changeOf(entity, after) {
  return { entity, id: after.id, before: null, after };
}

/** How far each question came after the beat of its own series, the most punctual of them being on time, ms. */
function lateness(times) {
  if (times.length < 3) return [];
  const steps = times
    .slice(1)
    .map((time, index) => time - times[index])
    .sort((a, b) => a - b);
  const period = PERIODS.reduce((best, next) =>
    Math.abs(next - steps[steps.length >> 1]) < Math.abs(best - steps[steps.length >> 1]) ? next : best,
  );
  // On time is when most come; whoever comes within the quarter of a period before that is early, whoever comes later is late.
  const after = (from, time) => (((time - from) % period) + period) % period;
  const near = (from) => times.filter((time) => after(from - NEAR_MS, time) <= 2 * NEAR_MS).length;
  const usual = times.reduce((best, time) => (near(time) > near(best) ? time : best));
  const off = times.map((time) => after(usual - period / 4, time));
  const first = Math.min(...off);
  return off.map((ms, index) => ({ dueMs: times[index] - (ms - first), atMs: times[index] }));
}

function lateOf({ dueMs, atMs }) {
  return atMs - dueMs;
}

/** The median, the worst hundredth and the worst of times, ms, as text. */
function spread(values) {
  return `${at(values, 0.5).toFixed(1)} ms (median), ${at(values, 0.99).toFixed(1)} (p99), ${at(values, 1).toFixed(0)} (worst)`;
}

function at(values, part) {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(part * (sorted.length - 1))] ?? NaN;
}

/** Seconds of a core that a process has used. */
function cpuOf(pid) {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ');
  return (Number(fields[11]) + Number(fields[12])) / TICKS_A_SECOND;
}

function memoryOf(pid) {
  return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;
}
