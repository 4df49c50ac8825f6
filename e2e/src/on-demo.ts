import { fernhollow } from '@plain-envoy/core/demo';
import { DEMO_ID } from '@plain-envoy/core/model';
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { type Browser, openBrowser } from './browser.js';
import { Page } from './page.js';
import { type Start, startEnvoy } from './start.js';

const require = createRequire(import.meta.url);
const axe = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');

/** All routes of the demo but those of its two faults: a drive that is set otherwise, and two cables with one unit ID. */
export const DELIVERING = '112 of 125 routes deliver';

export const deviceId = (name: string) => fernhollow().devices.find((device) => device.name === name)!.id;

/** A start of a describe’s own with the demo, and a browser at it. */
export class OnDemo {
  start!: Start;
  browser!: Browser;
  page!: Page;

  readonly api = async (method: string, path: string, body?: unknown): Promise<never> => {
    const response = await fetch(`${this.start.address}/api/${path}`, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    return (await response.json()) as never;
  };

  readonly runBench = async (): Promise<never> => this.api('POST', `projects/${DEMO_ID}/bench/run`, {});

  /** What axe-core, by all its rules or by these alone, calls serious or critical on the page once nothing on it moves: amid a fade every colour is too pale. */
  readonly serious = async (...rules: string[]): Promise<string[]> => {
    await this.browser.driver.executeScript(axe);
    return this.browser.driver.executeAsyncScript<string[]>(
      `const [rules, done] = arguments;
       const frame = () => new Promise(requestAnimationFrame);
       const moving = () => document.getAnimations().filter((one) => one.playState === 'running' && one.effect.getComputedTiming().endTime < Infinity);
       (async () => {
         do {
           await Promise.allSettled(moving().map(({ finished }) => finished));
           await frame();
           await frame();
         } while (moving().length > 0);
         const { violations } = await axe.run({ resultTypes: ['violations'], ...(rules.length > 0 ? { runOnly: rules } : {}) });
         return violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')
           .map((v) => v.id + ': ' + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(' | '));
       })().then(done);`,
      rules,
    );
  };
}

/** For a describe: one start serves its tests, and each begins from the demo's own state with the bench running, because what the one before did is undone. */
export function onDemo(): OnDemo {
  const on = new OnDemo();
  beforeAll(async () => {
    on.start = await startEnvoy();
    on.browser = await openBrowser();
    on.page = new Page(on.browser.driver, on.start.address);
  }, 120_000);
  afterAll(async () => {
    try {
      await on.browser.close();
    } finally {
      await on.start.stop();
    }
  }, 60_000);
  beforeEach(async () => {
    await on.runBench();
    await on.browser.complaints();
  });
  afterEach(async () => {
    for (let done = true; done;) {
      const answer = (await on.api('POST', `projects/${DEMO_ID}/undo`, {})) as { error?: unknown };
      done = !answer.error;
    }
    await on.api('POST', `projects/${DEMO_ID}/bench/stop`, {});
  });
  return on;
}
