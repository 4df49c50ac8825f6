import { fernhollow } from '@plain-envoy/core/demo';
import { screenOf } from './start.js';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { By } from 'selenium-webdriver';
import { openBrowser } from './browser.js';
import { printedManual } from './manual.js';

/**
 * Takes a picture of each main view of a running start, with the bench running:
 * `node e2e/dist/screenshots.js --address http://127.0.0.1:4310 --folder docs/screenshots [--theme dark] [--view site]`.
 */
const demo = fernhollow();
const idOf = (rows: readonly { id: string; name: string }[], name: string) => rows.find((row) => row.name === name)!.id;
const KILN_BUS = idOf(demo.lines, 'Kiln bus');
const [FLOOR_IO, METER, FAN_NORTH] = ['Floor I/O block', 'Plant meter', 'Fan drive north'].map((name) => idOf(demo.devices, name));
const AIR_ON_ROUTE = idOf(demo.routes, 'Air-on temperature');
/** The list of projects is no screen of a project. */
const FIRST_PAGE = '';
/** What is done on the way to a view: keys to the page, a click, or the manual of a drive into a field for files. */
type Step = { key: string } | { click: string } | { manualInto: string };
const views: Record<string, { path: string; steps?: Step[] }> = {
  projects: { path: FIRST_PAGE },
  site: { path: '/site' },
  lines: { path: `/lines?line=${KILN_BUS}` },
  wiring: { path: `/lines?line=${KILN_BUS}&tab=wiring` },
  registers: { path: `/registers?device=${METER}` },
  align: { path: `/registers?device=${FLOOR_IO}`, steps: [{ click: 'button[name=align]' }, { click: 'pe-align-view .head button' }] },
  import: {
    path: `/registers?device=${METER}`,
    steps: [{ click: 'button[name=import]' }, { manualInto: 'input[name=file]' }],
  },
  settings: {
    path: `/registers?device=${FAN_NORTH}`,
    steps: [{ click: 'button[name=wanted]' }, { click: 'pe-settings-view button[name=read]' }, { click: 'button[name=all-wanted]' }],
  },
  telegrams: { path: `/registers?device=${idOf(demo.devices, 'Weigh indicator')}`, steps: [{ click: 'button[name=telegrams]' }] },
  frames: { path: `/registers?device=${idOf(demo.devices, 'Floor turner')}`, steps: [{ click: 'button[name=frames]' }] },
  blocks: { path: `/registers?device=${idOf(demo.devices, 'Silo conveyor')}`, steps: [{ click: 'button[name=blocks]' }] },
  can: { path: '/bench?view=can' },
  stations: { path: '/bench?view=stations' },
  events: { path: `/registers?device=${idOf(demo.devices, 'Grid station')}`, steps: [{ click: 'button[name=events]' }] },
  image: { path: `/registers?device=${idOf(demo.devices, 'Text port')}`, steps: [{ click: 'button[name=image]' }] },
  program: { path: `/registers?device=${FAN_NORTH}`, steps: [{ click: 'button[name=program]' }] },
  routes: { path: `/routes?route=${AIR_ON_ROUTE}` },
  order: {
    path: `/routes?route=${AIR_ON_ROUTE}`,
    steps: [{ click: 'pe-bank:first-of-type [role=option]' }, { click: 'button[name=order]' }],
  },
  rounds: { path: '/rounds', steps: [{ click: 'button[name=measured]' }] },
  handover: { path: '/handover?view=book' },
  bench: { path: '/bench' },
  diagnosis: { path: '/bench', steps: [{ click: 'button[name=wrong]' }] },
  watch: {
    path: '/bench?view=watch',
    steps: [
      { click: 'pe-watch-view tbody tr:nth-child(1) input' },
      { click: 'pe-watch-view tbody tr:nth-child(3) input' },
      { click: 'button[name=plot-tab]' },
    ],
  },
  errands: { path: '/bench?view=errands', steps: [{ click: 'button[name=run-errand]' }] },
  write: { path: '/bench?view=watch', steps: [{ click: 'button[name=write-tab]' }] },
  proofs: { path: '/bench?view=proofs', steps: [{ click: 'pe-proofs-view tbody tr:nth-child(2) td:nth-child(2)' }] },
  terminal: { path: '/bench?view=terminal', steps: [{ click: 'button[name=open]' }] },
  armed: { path: '/bench', steps: [{ click: 'button[name=arm]' }] },
  counters: { path: '/bench', steps: [{ click: 'button[name=counters-tab]' }] },
  ask: {
    path: '/bench',
    steps: [{ click: 'button[name=ask-tab]' }, { click: 'button[name=read-counters]' }, { click: 'pe-inquiry-form button[type=submit]' }],
  },
  trace: { path: '/trace', steps: [{ click: 'button[name=hold]' }, { click: '.list .row:nth-last-child(3)' }] },
  reckoner: { path: '/site', steps: [{ key: 'r' }] },
};
const SETTLE_MS = 3000;

const { values } = parseArgs({
  options: {
    address: { type: 'string', default: 'http://127.0.0.1:4310' },
    folder: { type: 'string', default: 'docs/screenshots' },
    theme: { type: 'string', default: 'light' },
    view: { type: 'string', multiple: true },
  },
});

const folder = mkdtempSync(join(tmpdir(), 'manual-'));
const manual = join(folder, 'drive.pdf');
writeFileSync(manual, await printedManual());
const browser = await openBrowser();
try {
  const { driver } = browser;
  await driver.get(screenOf(values.address, '/site'));
  await driver.executeScript(
    `localStorage.setItem('plain-envoy-theme', arguments[0]); localStorage.setItem('plain-envoy tour', 'seen')`,
    values.theme,
  );
  for (const [name, { path, steps = [] }] of Object.entries(views)) {
    if (values.view && !values.view.includes(name)) continue;
    await driver.get(path === FIRST_PAGE ? values.address : screenOf(values.address, path));
    await driver.sleep(SETTLE_MS);
    for (const step of steps) {
      if ('key' in step) await driver.findElement(By.css('body')).sendKeys(step.key);
      else if ('click' in step) await driver.findElement(By.css(step.click)).click();
      else await driver.findElement(By.css(step.manualInto)).sendKeys(manual);
      // A manual is read and its page drawn.
      await driver.sleep('manualInto' in step ? 2 * SETTLE_MS : SETTLE_MS / 2);
    }
    const suffix = values.theme === 'light' ? '' : `-${values.theme}`;
    writeFileSync(join(values.folder, `${name}${suffix}.png`), await driver.takeScreenshot(), 'base64');
  }
  for (const complaint of await browser.complaints()) console.error(complaint);
} finally {
  await browser.close();
  rmSync(folder, { recursive: true });
}
