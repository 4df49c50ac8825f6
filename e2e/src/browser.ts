import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, type ThenableWebDriver, logging } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome.js';

export interface Browser {
  driver: ThenableWebDriver;
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
  return {
    driver,
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
