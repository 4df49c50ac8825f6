import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, type ThenableWebDriver, logging } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome.js';

export interface Browser {
  driver: ThenableWebDriver;
  /** What Chromium measures of the page: seconds of its process and main thread, bytes of its heap, by Chromium's names. */
  metrics(): Promise<Map<string, number>>;
  /** Throws away what the page does not hold any more, so that its heap can be compared. */
  collectGarbage(): Promise<void>;
  /** Errors and warnings that the page has written to the console since the last call. */
  complaints(): Promise<string[]>;
  close(): Promise<void>;
}

/** Headless Chromium at 1280 × 800 with a profile of its own that is thrown away. */
export async function openBrowser(): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), 'envoy-chromium-'));
  const options = new Options();
  options.setChromeBinaryPath(process.env['CHROME_BIN'] ?? '/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--hide-scrollbars',
    '--window-size=1280,800',
    `--user-data-dir=${profile}`,
  );
  const log = new logging.Preferences();
  log.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  options.setLoggingPrefs(log);
  const driver = new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  await driver
    .manage()
    .window()
    .setRect({ width: 1280, height: 800 + (await chromeHeight(driver)) });
  const chromium = driver as unknown as { sendAndGetDevToolsCommand(name: string, params: object): Promise<unknown> };
  await chromium.sendAndGetDevToolsCommand('Performance.enable', {});
  return {
    driver,
    async metrics() {
      const answer = await chromium.sendAndGetDevToolsCommand('Performance.getMetrics', {});
      return new Map((answer as { metrics: { name: string; value: number }[] }).metrics.map(({ name, value }) => [name, value]));
    },
    async collectGarbage() {
      await chromium.sendAndGetDevToolsCommand('HeapProfiler.collectGarbage', {});
    },
    async complaints() {
      const entries = await driver.manage().logs().get(logging.Type.BROWSER);
      return entries.filter((entry) => entry.level.value >= logging.Level.WARNING.value).map((entry) => entry.message);
    },
    async close() {
      await driver.quit();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

async function chromeHeight(driver: ThenableWebDriver): Promise<number> {
  return driver.executeScript<number>('return window.outerHeight - window.innerHeight');
}
