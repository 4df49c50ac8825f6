import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { openBrowser } from './browser.js';

/**
 * Takes a picture of each main view of a running start, with the bench running:
 * `node e2e/dist/screenshots.js --address http://127.0.0.1:4310 --folder docs/screenshots [--theme dark] [--view site]`.
 */
const views = {
  site: '/site',
  registers: '/registers',
  routes: '/routes',
  bench: '/bench',
};
const SETTLE_MS = 3000;

const { values } = parseArgs({
  options: {
    address: { type: 'string', default: 'http://127.0.0.1:4310' },
    folder: { type: 'string', default: 'docs/screenshots' },
    theme: { type: 'string', default: 'light' },
    view: { type: 'string', multiple: true },
    query: { type: 'string', default: '' },
  },
});

const browser = await openBrowser();
try {
  const { driver } = browser;
  await driver.get(`${values.address}/site`);
  await driver.executeScript(`localStorage.setItem('plain-envoy-theme', arguments[0])`, values.theme);
  for (const [name, path] of Object.entries(views)) {
    if (values.view && !values.view.includes(name)) continue;
    await driver.get(values.address + path + values.query);
    await driver.sleep(SETTLE_MS);
    const suffix = values.theme === 'light' ? '' : `-${values.theme}`;
    writeFileSync(join(values.folder, `${name}${suffix}.png`), await driver.takeScreenshot(), 'base64');
  }
  for (const complaint of await browser.complaints()) console.error(complaint);
} finally {
  await browser.close();
}
