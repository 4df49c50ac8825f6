// Half an hour in which everything is killed, stopped, filled up and edited at random, while the bench runs and pages open. Nothing that
// was acknowledged may be lost, no value may be called good that is wrong, nothing may be written that nobody planned, and all has to
// come back by itself. Loopback only; ends by itself. Usage: node --expose-gc scripts/chaos.mjs [minutes] [seed]
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebSocket } from 'ws';
import { askedFor } from '../core/dist/converter/index.js';
import { fernhollow } from '../core/dist/demo/index.js';
import { blankFaults, FeedReader } from '../core/dist/feed/index.js';
import { pointWidth } from '../core/dist/model/index.js';
import { clientOf } from '../e2e/dist/modbus.js';
import { envoy, eventually, startEnvoyIn } from '../e2e/dist/start.js';

const minutes = Number(process.argv[2] ?? 30);
const seed = Number(process.argv[3] ?? Date.now() % 100_000);
const RECOVERY_MS = 10_000;
const DISK_MB = 320;
const CALM_EACH_MS = 45_000;
const ILLEGAL_ADDRESS = 2;

const random = mulberry(seed);
const pick = (list) => list[Math.floor(random() * list.length)];
const sleep = (ms) => new Promise((done) => setTimeout(done, ms));
const say = (text) => console.log(`${((Date.now() - began) / 1000).toFixed(0).padStart(5)} s  ${text}`);
const began = Date.now();
const wrong = [];
const blame = (text) => {
  wrong.push(text);
  say(`WRONG: ${text}`);
};

// A small file system of its own, so that a full disk is nobody else's.
const disk = join(tmpdir(), `envoy-chaos-${process.pid}`);
const data = join(disk, 'data');
mkdirSync(disk, { recursive: true });
const isOwnDisk =
  process.getuid?.() === 0 && spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m,mode=755`, 'tmpfs', disk]).status === 0;
say(`seed ${seed}, ${minutes} min, ${isOwnDisk ? `a disk of ${DISK_MB} MB` : 'no disk of its own: it is not filled'}`);

const demo = fernhollow();
const projectId = demo.project.id;
const start = await startEnvoyIn(data);
const api = async (method, path, body) => {
  const response = await fetch(`${start.address}/api/${path}`, {
    method,
    signal: globalThis.AbortSignal.timeout(30_000),
    ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}),
  });
  return { status: response.status, body: await response.json().catch(() => null) };
};
const notes = () => start.notes();
const postgres = () => Number(readFileSync(join(notes().cluster, 'postmaster.pid'), 'utf8').split('\n')[0]);
const family = (pid) =>
  spawnSync('pgrep', ['-P', String(pid)], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter(Boolean)
    .map(Number)
    .concat(pid);
const signal = (pids, name) =>
  pids.forEach((pid) => {
    try {
      process.kill(pid, name);
    } catch {
      // It has ended meanwhile, which is one of the things that are tried here.
    }
  });

/** What was acknowledged of each point, and what may have been saved without an answer. */
const acknowledged = new Map();
const doubtful = new Map();
const doubt = (id, note) => doubtful.set(id, (doubtful.get(id) ?? new Set()).add(note));
const counts = { edits: 0, refused: 0, unanswered: 0, looks: 0, kills: 0 };

async function edit() {
  const point = pick(demo.points);
  const note = `chaos ${counts.edits + counts.refused + counts.unanswered}`;
  try {
    const { body } = await api('GET', `projects/${projectId}`);
    const before = body?.document?.points.find(({ id }) => id === point.id);
    if (!before) return;
    const changes = [{ entity: 'point', id: point.id, before, after: { ...before, note } }];
    const { status } = await api('POST', `projects/${projectId}/change-sets`, { label: note, baseRevision: body.revision, changes });
    if (status === 200) {
      acknowledged.set(point.id, note);
      doubtful.delete(point.id);
      counts.edits += 1;
    } else {
      if (status === 503) doubt(point.id, note);
      counts.refused += 1;
    }
  } catch {
    // No answer: it may have been saved all the same.
    doubt(point.id, note);
    counts.unanswered += 1;
  }
}

async function isLost() {
  const { body } = await api('GET', `projects/${projectId}`);
  for (const [id, note] of acknowledged) {
    const now = body.document.points.find((point) => point.id === id)?.note;
    if (now !== note && !doubtful.get(id)?.has(now)) blame(`an edit that was acknowledged is lost: ${note}, ${now} is there`);
  }
}

/** Each trouble: what is done, and what takes it away. Recovery is counted from when the cause is gone. */
const troubles = {
  'the server is killed': async () => {
    counts.kills += 1;
    signal([notes().server], 'SIGKILL');
  },
  'PostgreSQL is killed': async () => {
    counts.kills += 1;
    signal([postgres()], 'SIGQUIT');
  },
  'the stand-ins are killed': async () => {
    counts.kills += 1;
    signal([notes().standIns], 'SIGKILL');
  },
  'PostgreSQL stands still': async () => {
    const pids = family(postgres());
    signal(pids, 'SIGSTOP');
    await during(12_000);
    signal(pids, 'SIGCONT');
  },
  'the server stands still': async () => {
    const { server } = notes();
    signal([server], 'SIGSTOP');
    await sleep(3000);
    signal([server], 'SIGCONT');
  },
  'the disk is full': async () => {
    if (!isOwnDisk) return;
    const file = join(disk, 'filled');
    const { bavail, bsize } = statfsSync(disk);
    writeFileSync(file, Buffer.alloc(Math.max(0, bavail * bsize - 4096)));
    await during(8000);
    rmSync(file, { force: true });
  },
  'faults come and go': async () => {
    const devices = demo.devices.filter(({ standIn }) => standIn);
    const chosen = Array.from({ length: 4 }, () => pick(devices));
    for (const { id } of chosen)
      await api('PUT', `projects/${projectId}/stand-ins/${id}/faults`, { faults: [pick(Object.values(blankFaults))] }).catch(
        () => undefined,
      );
    await during(6000);
    for (const { id } of chosen)
      await eventually(
        'a fault taken away',
        async () => (await api('PUT', `projects/${projectId}/stand-ins/${id}/faults`, { faults: [] })).status < 500,
        20_000,
      );
  },
  'pages open and close': async () => {
    const sockets = Array.from({ length: 8 }, () => new WebSocket(start.address.replace('http', 'ws') + `/api/projects/${projectId}/live`));
    await during(4000);
    for (const socket of sockets) socket.close();
  },
};

/** Edits go on meanwhile. */
async function during(ms) {
  for (const end = Date.now() + ms; Date.now() < end;) {
    await edit();
    await sleep(150 * random());
  }
}

/** `goneAtMs` is when its cause was gone. The ms that it took from then on. */
async function comesBack(what, goneAtMs = Date.now()) {
  const isBack = async () => {
    const { body } = await api('GET', 'health');
    return (
      body.database.ok &&
      (await api('GET', `projects/${projectId}`)).status === 200 &&
      (await api('GET', `projects/${projectId}/stand-ins`)).body.length > 0
    );
  };
  try {
    await eventually('that all is back', isBack, 60_000);
  } catch (error) {
    console.log(start.errors().split('\n').slice(-30).join('\n'));
    return blame(`after ${what} not all came back: ${error.message}`);
  }
  const ms = Date.now() - goneAtMs;
  if (ms > RECOVERY_MS) blame(`after ${what} it took ${ms} ms until all was back`);
  const { body } = await api('GET', `projects/${projectId}/bench`);
  if (!body.running) await api('POST', `projects/${projectId}/bench/run`, {});
  return ms;
}

/** A held value that its route calls good stands at its destination. */
async function isGoodTrue() {
  const points = new Map(demo.points.map((point) => [point.id, point]));
  const routes = demo.routes.filter(({ name }) =>
    ['Steep water temperature', 'Fan north current', 'Fan north speed', 'Flue temperature'].includes(name),
  );
  const route = pick(routes);
  const [source, destination] = [points.get(route.sourceId), points.get(route.destinationId)];
  const word = 100 + Math.floor(random() * 300);
  const place = { table: source.table, offset: source.offset };
  await api('PUT', `projects/${projectId}/stand-ins/${source.deviceId}/registers`, { ...place, words: [word] });
  const feed = new WebSocket(start.address.replace('http', 'ws') + `/api/projects/${projectId}/live`);
  const reader = new FeedReader();
  let state = null;
  feed.onopen = () => feed.send(JSON.stringify(reader.watch({ routes: [route.id] })));
  feed.onmessage = ({ data: text }) => {
    const message = JSON.parse(text);
    if (message.type === 'values') state = reader.read(message).routes.at(-1) ?? state;
  };
  await sleep(6000);
  if (state?.quality === 'good' && state.writtenWords?.[0] !== word)
    blame(`${route.name} is called good with ${state.writtenWords}, and ${word} is held`);
  const client = await clientOf('127.40.8.10', start.standInsPort, 255);
  const found = (await client.readHoldingRegisters(destination.offset, 1)).data[0];
  if (state?.quality === 'good' && found !== word)
    blame(`${route.name} is called good, and its destination holds ${found} in place of ${word}`);
  client.close(() => undefined);
  feed.close();
  await api('PUT', `projects/${projectId}/stand-ins/${source.deviceId}/release`, { ...place, count: 1 });
  counts.looks += 1;
}

/** Registers of the controller that no route writes and its own program leaves alone stay 0. */
async function isAllPlanned() {
  const controller = demo.devices.find(({ name }) => name === 'Kiln controller');
  // What is behind its cyclic link is asked at the controller, too.
  const askedAt = askedFor(demo);
  const mine = demo.points.filter(({ deviceId, table }) => askedAt(deviceId) === controller.id && table === 'holding');
  const own = new Set(mine.flatMap((point) => Array.from({ length: pointWidth(point) }, (_, index) => point.offset + index)));
  const client = await clientOf('127.40.8.10', start.standInsPort, 255);
  for (let at = 0; at < 500; at += 100) {
    const words = await wordsFrom(client, at, 100);
    words.forEach(
      (word, index) =>
        word && !own.has(at + index) && blame(`register ${at + index} of the controller holds ${word}, which nobody planned`),
    );
  }
  client.close(() => undefined);
}

/** What so many registers hold, from one on; those that the device does not have hold nothing. */
async function wordsFrom(client, at, count) {
  try {
    return (await client.readHoldingRegisters(at, count)).data;
  } catch (error) {
    if (error.modbusCode !== ILLEGAL_ADDRESS) throw error;
    if (count === 1) return [0];
    const half = count >> 1;
    return [...(await wordsFrom(client, at, half)), ...(await wordsFrom(client, at + half, count - half))];
  }
}

/** Of the server, MB. */
const memory = () => {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${notes().server}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    blame('no server runs whose memory could be looked at');
    return 0;
  }
};
const slowest = new Map();
await api('POST', `projects/${projectId}/bench/run`, {});
await sleep(5000);
let calmAt = Date.now();
const memories = [];
while (Date.now() - began < minutes * 60_000) {
  const what = pick(Object.keys(troubles));
  say(what);
  const [goneAtMs] = await Promise.all([troubles[what]().then(() => Date.now()), during(500)]);
  const ms = (await comesBack(what, goneAtMs)) ?? 0;
  slowest.set(what, Math.max(slowest.get(what) ?? 0, ms));
  await isLost().catch((error) => blame(`it could not be looked at: ${error.message}`));
  if (Date.now() - calmAt > CALM_EACH_MS) {
    await sleep(8000);
    await isGoodTrue().catch((error) => blame(`what is good could not be looked at: ${error.message}`));
    await isAllPlanned().catch((error) => blame(`what was written could not be looked at: ${error.message}`));
    memories.push(memory());
    calmAt = Date.now();
  }
}
await comesBack('the end');
await isLost();
say(
  `${counts.edits} edits acknowledged, ${counts.refused} refused, ${counts.unanswered} unanswered; ${counts.kills} kills; ${counts.looks} looks at what is good`,
);
say(`slowest recovery, ms: ${[...slowest].map(([what, ms]) => `${what} ${ms}`).join(', ')}`);
say(`memory of the server, MB: ${memories.map((mb) => mb.toFixed(0)).join(' ')}`);
if (memories.length > 3 && memories.at(-1) > 1.5 * Math.max(...memories.slice(0, 2))) blame('the memory of the server grows');
const { code } = await envoy(['backup', join(tmpdir(), `envoy-chaos-${process.pid}.dump`), '--data', data]);
if (code !== 0) blame('no backup could be made in the end');
rmSync(join(tmpdir(), `envoy-chaos-${process.pid}.dump`), { force: true });
await start.stop();
if (isOwnDisk) spawnSync('umount', [disk]);
rmSync(disk, { recursive: true, force: true });
console.log(wrong.length ? `${wrong.length} things went wrong.` : 'Nothing went wrong.');
process.exit(wrong.length ? 1 : 0);

/** Numbers that look random and come again with the same seed (mulberry32). */
function mulberry(from) {
  let state = from;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}
