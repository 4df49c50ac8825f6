import { DEMO_ID } from '@plain-envoy/core/model';
import { readFileSync } from 'node:fs';
import { blankFaults, type Counters, triesIn } from '@plain-envoy/core/feed';
import { WebSocket } from 'ws';
import { apiOf } from './api.js';
import { openBrowser } from './browser.js';
import { Page } from './page.js';
import { type Start, startEnvoy } from './start.js';

/**
 * The demo with an open page for a while, faults coming and going: memory stays flat in server and browser, counters only grow,
 * and nobody complains. Loopback only; ends by itself: `npm run soak -w e2e [-- seconds]`.
 */
const seconds = Number(process.argv[2] ?? 600);
const FAULT_EACH_MS = 1500;
const LOOK_EACH_MS = 10_000;
const TURN_EACH_LOOKS = 3;
/** What is clicked to come to each screen, without loading the page anew. */
const SCREENS = [
  ['a[href="/bench"]', 'button[name=routes]'],
  ['a[href="/bench"]', 'button[name=watch]', 'button[name=plot-tab]'],
  ['a[href="/trace"]'],
  ['a[href="/site"]'],
  ['a[href="/rounds"]'],
  ['a[href="/bench"]', 'button[name=watch]', 'button[name=counters-tab]'],
];

const start = await startEnvoy();
const browser = await openBrowser();
try {
  await soak(start);
} finally {
  await browser.close();
  await start.stop();
}

async function soak({ address, notes }: Start): Promise<void> {
  const api = apiOf(address);
  const page = new Page(browser.driver, address);
  await page.open('/bench');
  const { id } = (await api<{ id: string }[]>('GET', 'projects'))[0]!;
  await api('POST', `projects/${id}/bench/run`, {});
  const members = (await api<{ deviceId: string; hasRegisters: boolean }[]>('GET', `projects/${id}/stand-ins`)).filter(
    ({ hasRegisters }) => hasRegisters,
  );
  const all = Object.values(blankFaults);
  const complaints: string[] = [];
  let [made, looks] = [0, 0];
  const faults = setInterval(() => {
    const { deviceId } = members[(made * 7) % members.length]!;
    made += 1;
    const done =
      made % 10 === 0
        ? api('PUT', `projects/${id}/stand-ins/${deviceId}/reboot`, { ms: 500 })
        : api('PUT', `projects/${id}/stand-ins/${deviceId}/faults`, { faults: made % 3 === 0 ? [] : [all[made % all.length]!] });
    done.catch((error: unknown) => complaints.push(String(error)));
  }, FAULT_EACH_MS);

  const heaps: number[] = [];
  const servers: number[] = [];
  let lost = 0;
  let before = new Map<string, number>();
  for (const end = Date.now() + seconds * 1000; Date.now() < end;) {
    if (looks % TURN_EACH_LOOKS === 0)
      for (const selector of SCREENS[(looks / TURN_EACH_LOOKS) % SCREENS.length]!) await page.click(selector);
    looks += 1;
    await new Promise((done) => setTimeout(done, LOOK_EACH_MS));
    await browser.collectGarbage();
    heaps.push((await browser.metrics()).get('JSHeapUsedSize')! / 2 ** 20);
    servers.push(residentMb(notes().server));
    complaints.push(...(await browser.complaints()));
    const counted = await countedBy(address);
    for (const [device, tries] of before) if ((counted.get(device) ?? 0) < tries) lost += 1;
    before = counted;
  }
  clearInterval(faults);
  for (const { deviceId } of members) await api('PUT', `projects/${id}/stand-ins/${deviceId}/faults`, { faults: [] });
  for (const selector of SCREENS[0]!) await page.click(selector);
  const delivers = await page.says('.screen-head', '112 of 125 routes deliver', 60_000).then(
    () => 'all that can deliver do again',
    (error: Error) => error.message,
  );
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  const told = (values: readonly number[]) => {
    const part = (from: number, to: number) => mean(values.slice(Math.floor(from * values.length), Math.ceil(to * values.length)));
    return `${part(0.25, 0.5).toFixed(1)} MB in the second quarter, ${part(0.75, 1).toFixed(1)} MB in the last`;
  };
  console.log(`The demo with a page open for ${seconds} s and ${made} faults that came and went; in the end ${delivers}`);
  console.log(`  browser ${told(heaps)}; server ${told(servers)}`);
  console.log(`  counters that fell: ${lost}; complaints: ${complaints.length} ${complaints.slice(0, 3).join(' | ')}`);
  console.log(`  the server said: ${start.output().split('\n').slice(-2).join(' ').trim()}`);
}

/** How many tries the server has counted, by device: what a page that comes now is told. */
function countedBy(address: string): Promise<Map<string, number>> {
  return new Promise((done, fail) => {
    const socket = new WebSocket(`${address.replace('http', 'ws')}/api/projects/${DEMO_ID}/live`);
    socket.on('error', fail);
    socket.on('message', (data: Buffer) => {
      const message = JSON.parse(data.toString()) as { type: string; devices?: Counters[] };
      if (message.type !== 'values') return;
      socket.close();
      done(new Map(message.devices!.map((row) => [row.id, triesIn(row)])));
    });
  });
}

/** What a process holds in memory, as the system counts it. */
function residentMb(pid: number): number {
  return Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
}
