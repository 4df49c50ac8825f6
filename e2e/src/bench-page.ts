import type { ProjectDocument } from '@plain-envoy/core/model';
import { blankDevice, blankPoint, blankPort, plainRoute } from '@plain-envoy/core/model';
import type { ThenableWebDriver } from 'selenium-webdriver';
import { v7 as newId } from 'uuid';
import { type Api, apiOf } from './api.js';
import { openBrowser } from './browser.js';
import { clientOf } from './modbus.js';
import { Page } from './page.js';
import { eventually, type Start, startEnvoy } from './start.js';

/**
 * What the page costs while 2,000 values change each second, screen by screen, beside the same page with the bench stopped; and
 * how evenly it draws while 200,000 frames are scrolled; and how long a map of 20,000 points takes to open, beside a small one. Everything on loopback; ends by itself: `npm run bench -w e2e`.
 */
const PAIRS = 10;
const EACH = 100;
const SECONDS = 15;
const SCROLL_SECONDS = 10;
const FRAMES = 200_000;
const POINTS = 20_000;
const OPENED_TIMES = 5;
/** The period that fills the trace within a minute or two. */
const QUICK_MS = 20;
const SCREENS = {
  'Bench, routes': '/bench',
  'Bench, watch': '/bench?view=watch',
  Site: '/site',
  Rounds: '/rounds',
  Trace: '/trace',
};

/** `screens`, `scroll` or `open`; nothing for all. */
const only = process.argv[2];

const start = await startEnvoy();
const browser = await openBrowser();
try {
  await measure(browser.driver, start);
} finally {
  await browser.close();
  await start.stop();
}

interface Busy {
  driver: ThenableWebDriver;
  page: Page;
  api: Api;
  /** Of the project. */
  id: string;
}

async function measure(driver: ThenableWebDriver, { address, standInsPort }: Start): Promise<void> {
  const api = apiOf(address);
  const { id } = (await api<{ id: string }[]>('GET', 'projects'))[0]!;
  const { document } = await api<{ document: ProjectDocument }>('GET', `projects/${id}`);
  const { changes, sources, round } = busy(document);
  const change = async (label: string, made: unknown[]) => {
    const { revision: baseRevision } = await api<{ revision: number }>('GET', `projects/${id}`);
    await api('POST', `projects/${id}/change-sets`, { label, baseRevision, changes: made });
  };
  await change('Two thousand values', changes);
  const on: Busy = { driver, page: new Page(driver, address), api, id };
  if (only === undefined || only === 'open') await measureOpening(on, document);
  if (only === 'open') return;
  if (only !== 'scroll') await measureScreens(on, () => Promise.all(sources.map((ip) => moverOf(ip, standInsPort))));
  if (only === 'screens') return;
  await change('Fill the trace', [{ entity: 'round', id: round.id, before: round, after: { ...round, periodMs: QUICK_MS } }]);
  await api('POST', `projects/${id}/bench/run`, {});
  await measureScrolling(on);
}

/** How long it takes in the page that is there from choosing Registers until rows of the map are drawn; of a large map and of a small one. */
async function measureOpening({ driver, page, api, id }: Busy, document: ProjectDocument): Promise<void> {
  const projectId = document.project.id;
  const large = { ...blankDevice('Large'), id: newId(), projectId };
  const points = Array.from({ length: POINTS }, (_, offset) => ({
    ...blankPoint({ id: newId(), projectId, deviceId: large.id }),
    ...{ name: `Value ${offset}`, offset },
  }));
  const { revision: baseRevision } = await api<{ revision: number }>('GET', `projects/${id}`);
  const changes = [changeOf('device', large), ...points.map((point) => changeOf('point', point))];
  await api('POST', `projects/${id}/change-sets`, { label: 'A large map', baseRevision, changes });
  const small = document.devices.find(({ name }) => name === 'Plant meter')!;
  await page.open('/site');
  await page.says('.screen-head', 'points');
  await settled(driver);
  const took = new Map<string, number>();
  for (const device of [small, large]) {
    const times: number[] = [];
    for (let turn = 0; turn < OPENED_TIMES; turn++) {
      times.push(await opened(driver, `/registers?device=${device.id}`));
      await opened(driver, '/site');
    }
    took.set(device.name, times.sort((a, b) => a - b)[Math.floor(OPENED_TIMES / 2)]!);
  }
  const [smallMs, largeMs] = [took.get(small.name)!, took.get(large.name)!];
  console.log(
    `A map of ${POINTS} points opens in ${largeMs.toFixed(0)} ms, one of 12 in ${smallMs.toFixed(0)} ms (medians of ${OPENED_TIMES})`,
  );
  console.log(`  ratio ${(largeMs / smallMs).toFixed(2)}  opening a large map ÷ opening a small one`);
  await api('POST', `projects/${id}/undo`, {});
}

/** Goes to another address inside the page, and tells how long it took until its rows, or its drawing, were there and painted. */
async function opened(driver: ThenableWebDriver, address: string): Promise<number> {
  return driver.executeAsyncScript<number>(
    `const [address, done] = arguments;
     const begun = performance.now();
     const isThere = () => document.querySelector(address.startsWith('/site') ? 'pe-site .device' : 'pe-point-grid .ag-row');
     const look = () => isThere() ? requestAnimationFrame(() => done(performance.now() - begun)) : requestAnimationFrame(look);
     history.pushState(null, '', address);
     dispatchEvent(new PopStateEvent('popstate'));
     requestAnimationFrame(look);`,
    address,
  );
}

/** Each screen at rest, and then while the bench runs and all values move. */
async function measureScreens({ driver, page, api, id }: Busy, move: () => Promise<(() => void)[]>): Promise<void> {
  console.log(`The page, with ${PAIRS * EACH} routes of a second each beside the demo: ${2 * PAIRS * EACH} values a second`);
  const still = new Map<string, Cost>();
  const open = async (path: string) => {
    await page.open(path);
    if (path.includes('watch')) await page.choose('list', 'A thousand');
    await settled(driver);
  };
  for (const [name, path] of Object.entries(SCREENS)) {
    await open(path);
    still.set(name, await costOf(driver, SECONDS / 3));
  }
  await api('POST', `projects/${id}/bench/run`, {});
  const movers = await move();
  for (const [name, path] of Object.entries(SCREENS)) {
    await open(path);
    const [busy, stopped] = [await costOf(driver, SECONDS), still.get(name)!];
    console.log(`  ${name}: ${told(busy)}; stopped ${told(stopped)}`);
    console.log(
      `  ratio ${(busy.framesASecond / stopped.framesASecond).toFixed(2)}  ${name}: frames a second with all values moving ÷ stopped`,
    );
  }
  for (const end of movers) end();
}

/** Ten pairs of devices on the process net, with a route from each register of the one to the same of the other. */
function busy(document: ProjectDocument) {
  const projectId = document.project.id;
  const net = document.lines.find(({ kind }) => kind === 'ethernet')!;
  const carrier = document.devices.find(({ name }) => name === 'Kiln controller')!;
  const round = { id: newId(), projectId, name: 'All', periodMs: 1000, phaseMs: 0, pauseMs: null, priority: 1 };
  const list = { id: newId(), projectId, name: 'A thousand', radix: 'decimal', items: [] as unknown[] };
  const changes = [changeOf('round', round)];
  const sources: string[] = [];
  const addDevice = (name: string, last: number) => {
    const device = { ...blankDevice(name), id: newId(), projectId, standIn: 'steep-controller' };
    const standInAddress = `127.40.9.${last}`;
    const port = {
      ...blankPort(document, net, { id: newId(), deviceId: device.id }),
      ip: `10.40.8.${last}`,
      standInAddress,
      position: last,
    };
    const points = Array.from({ length: EACH }, (_, offset) => ({
      ...blankPoint({ id: newId(), projectId, deviceId: device.id }),
      ...{ name: `${name} ${offset}`, offset },
    }));
    changes.push(changeOf('device', device), changeOf('port', port), ...points.map((point) => changeOf('point', point)));
    return { points, standInAddress };
  };
  for (let pair = 0; pair < PAIRS; pair++) {
    const [from, to] = [addDevice(`Source ${pair}`, 100 + pair), addDevice(`Copy ${pair}`, 150 + pair)];
    sources.push(from.standInAddress);
    for (const [index, { id: sourceId, name }] of from.points.entries()) {
      const ends = { sourceId, destinationId: to.points[index]!.id, roundId: round.id, carrierId: carrier.id };
      const route = { ...plainRoute, ...ends, id: newId(), projectId, name, note: '', carry: 'registers', maxAgeMs: 5000 };
      changes.push(changeOf('route', route));
      list.items.push({ of: 'route', id: route.id, radix: null });
    }
  }
  return { changes: [...changes, changeOf('watchList', list)], sources, round };
}

function changeOf(entity: string, after: { id: string }) {
  return { entity, id: after.id, before: null, after: after as Record<string, unknown> };
}

/** Gives every source register another value a few times a second, by a client of other hands; the answer ends it. */
async function moverOf(ip: string, port: number): Promise<() => void> {
  const client = await clientOf(ip, port, 255);
  let beat = 0;
  const timer = setInterval(() => {
    beat += 1;
    void client.writeRegisters(
      0,
      Array.from({ length: EACH }, (_, index) => (beat * 7 + index * 13) & 0xffff),
    );
  }, 500);
  return () => {
    clearInterval(timer);
    client.close(() => undefined);
  };
}

interface Cost {
  /** Parts of one core that the page’s process and its main thread take. */
  process: number;
  thread: number;
  framesASecond: number;
  /** The longest that the page went without drawing. */
  longestMs: number;
}

function told({ process, thread, framesASecond, longestMs }: Cost): string {
  const numbers = [`${process.toFixed(2)} of a core`, `main thread ${thread.toFixed(2)}`, `${framesASecond.toFixed(0)} frames a second`];
  return `${numbers.join(', ')}, longest ${longestMs.toFixed(0)} ms`;
}

async function costOf(driver: ThenableWebDriver, seconds: number, whileAt = ''): Promise<Cost> {
  const before = await browser.metrics();
  const { frames, longestMs } = await driver.executeAsyncScript<{ frames: number; longestMs: number }>(
    `const [until, done] = [performance.now() + arguments[0] * 1000, arguments[arguments.length - 1]];
     let [frames, last, longestMs] = [0, performance.now(), 0];
     const tick = (now) => {
       frames += 1;
       longestMs = Math.max(longestMs, now - last);
       last = now;
       ${whileAt}
       if (now < until) requestAnimationFrame(tick);
       else done({ frames, longestMs });
     };
     requestAnimationFrame(tick);`,
    seconds,
  );
  const after = await browser.metrics();
  const spent = (name: string) => (after.get(name)! - before.get(name)!) / (after.get('Timestamp')! - before.get('Timestamp')!);
  return { process: spent('ProcessTime'), thread: spent('TaskDuration'), framesASecond: frames / seconds, longestMs };
}

/** Waits until the page has drawn at an even pace for a second; one that never does is measured as it is. */
async function settled(driver: ThenableWebDriver): Promise<void> {
  for (let looks = 0; looks < 8; looks++) if ((await costOf(driver, 1)).longestMs < 100) return;
}

/** Waits for a full trace, holds it, and scrolls through all of it and back. */
async function measureScrolling({ driver, page, api, id }: Busy): Promise<void> {
  const kept = async () => {
    const { kept } = await api<{ kept: { first: number; last: number } }>('POST', `projects/${id}/trace`, {
      ...{ filter: {}, upTo: null, from: -1, count: 1 },
    });
    return kept.last - kept.first + 1;
  };
  await eventually('a full trace', async () => (await kept()) >= FRAMES / 2, 600_000);
  await api('POST', `projects/${id}/bench/stop`, {});
  await page.open('/trace');
  await page.click('button[name=hold]');
  for (const [how, seconds] of Object.entries({ 'from end to end': 1.6, 'a few rows in each frame': 160 })) {
    const cost = await costOf(
      driver,
      SCROLL_SECONDS,
      `const list = document.querySelector('pe-trace .list');
       list.scrollTop = (list.scrollHeight - list.clientHeight) * (0.5 + 0.5 * Math.sin(now / ${seconds * 1000}));`,
    );
    console.log(`  ${FRAMES} frames scrolled ${how}: ${told(cost)}`);
  }
}
