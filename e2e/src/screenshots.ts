import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { By } from 'selenium-webdriver';
import { openBrowser } from './browser.js';

/**
 * Takes a picture of each main view of a running start, with the bench running:
 * `node e2e/dist/screenshots.js --address http://127.0.0.1:4310 --folder docs/screenshots [--theme dark] [--view site]`.
 */
const KILN_BUS = '019aa000-0000-7000-8000-000000000003';
const views: Record<string, { path: string; key?: string }> = {
  site: { path: '/site' },
  lines: { path: `/lines?line=${KILN_BUS}` },
  wiring: { path: `/lines?line=${KILN_BUS}&tab=wiring` },
  registers: { path: '/registers' },
  routes: { path: '/routes' },
  bench: { path: '/bench' },
  reckoner: { path: '/site', key: 'r' },
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

const browser = await openBrowser();
try {
  const { driver } = browser;
  await driver.get(`${values.address}/site`);
  await driver.executeScript(`localStorage.setItem('plain-envoy-theme', arguments[0])`, values.theme);
  for (const [name, { path, key }] of Object.entries(views)) {
    if (values.view && !values.view.includes(name)) continue;
    await driver.get(values.address + path);
    await driver.sleep(SETTLE_MS);
    if (key) await driver.findElement(By.css('body')).sendKeys(key);
    if (key) await driver.sleep(SETTLE_MS);
    const suffix = values.theme === 'light' ? '' : `-${values.theme}`;
    writeFileSync(join(values.folder, `${name}${suffix}.png`), await driver.takeScreenshot(), 'base64');
  }
  for (const complaint of await browser.complaints()) console.error(complaint);
} finally {
  await browser.close();
}
