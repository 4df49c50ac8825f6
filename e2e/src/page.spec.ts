import { DEMO_ID } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('The page, in a browser', () => {
  const on = onDemo();

  it('needs less than 400 kB, compressed, before its first screen is shown', async () => {
    await on.page.open('/site');
    const bytes = await on.browser.driver.executeScript<number>(
      `return performance.getEntriesByType('resource').filter((entry) => !entry.name.includes('/api/')).reduce((sum, entry) => sum + entry.encodedBodySize, 0)`,
    );
    expect(bytes).toBeGreaterThan(100_000);
    expect(bytes).toBeLessThan(400_000);
  });

  /** The dark has colours of its own, and nothing else. */
  const COLOURS = 'color-contrast';

  describe('has nothing that axe-core calls serious, in light or dark,', () => {
    const inTheme = (theme: 'light' | 'dark') =>
      on.browser.driver.executeScript(`localStorage.setItem('plain-envoy-theme', arguments[0])`, theme);
    // What a page remembers is kept for its address, so one is opened first.
    beforeEach(() => on.page.open('/site'));
    afterEach(() => on.browser.driver.executeScript(`localStorage.clear()`));

    for (const path of [
      '/site',
      '/lines',
      '/lines?tab=wiring',
      '/lines?tab=prove',
      '/registers',
      '/routes',
      '/rounds',
      '/bench',
      '/bench?view=watch',
      '/bench?view=errands',
      '/bench?view=proofs',
      '/bench?view=terminal',
      '/bench?view=can',
      '/trace',
      '/handover',
      '/handover?view=variables',
      '/handover?view=program',
      '/handover?view=losses',
      '/handover?view=found',
      '/handover?view=protocol',
      '/handover?view=book',
      '/handover?view=revisions',
    ]) {
      it(`on ${path}`, async () => {
        await inTheme('light');
        await on.page.open(path);
        await on.page.says('.pill', 'Bench runs on stand-ins');
        expect(await on.serious())
          .withContext('in light')
          .toEqual([]);
        await on.page.click('button[title^=Colours]');
        await on.page.says('button[title^=Colours]', 'dark');
        expect(await on.serious(COLOURS))
          .withContext('in dark')
          .toEqual([]);
      });
    }

    const press =
      (...keys: string[]) =>
      () =>
        on.page.press(...keys);
    const click = (selector: string) => () => on.page.click(selector);
    // What comes later than the rest has no names yet when it is put in.
    const drawn = (selector: string) => async () => void (await on.page.shows(selector));
    const opened: readonly [path: string, shows: string, ...steps: (() => Promise<void>)[]][] = [
      ['/site', 'pe-keys-sheet h3', press('?')],
      ['/site', 'pe-palette li', () => on.page.chord(Key.CONTROL, 'k')],
      ['/site', 'pe-reckoner-drawer', press('r')],
      ['/site', 'pe-findings-panel', () => on.page.chord(Key.ALT, 'w')],
      ['/site', 'pe-tour-card section', click('button[name=tour-begin]')],
      ['/site?add=device', 'pe-add-device form'],
      ['/registers', 'pe-order-help', () => on.page.chord(Key.ALT, 'o')],
      ['/registers', 'pe-device-panel', click('button[name=device-panel]'), drawn('pe-from-library input[name=give-as]')],
      ['/registers', 'pe-settings-view', click('button[name=wanted]')],
      ['/bench?view=watch', 'pe-tile', click('button[name=tiles]')],
      ['/bench?view=watch', 'gridster-item[tabindex]', click('button[name=tiles]'), click('[data-name=arrange] button')],
      ['/bench', 'pe-arm-panel', click('button[name=arm]')],
    ];
    for (const [path, shows, ...steps] of opened) {
      it(`in ${shows}, which opens on ${path}, and is no wider than a page at 150 %`, async () => {
        for (const theme of ['light', 'dark'] as const) {
          await on.browser.driver.executeScript('localStorage.clear()');
          await inTheme(theme);
          await on.page.open(path);
          await on.page.says('.pill', 'Bench runs on stand-ins');
          for (const step of steps) await step();
          await on.page.shows(shows);
          expect(await (theme === 'light' ? on.serious() : on.serious(COLOURS)))
            .withContext(`in ${theme}`)
            .toEqual([]);
          const tooWide = 'return document.documentElement.scrollWidth > document.documentElement.clientWidth';
          expect(await on.browser.driver.executeScript(tooWide))
            .withContext(`in ${theme}`)
            .toBeFalse();
        }
      });
    }
  });

  it('keeps every acknowledged edit through a kill -9 of the server amid edits and a run', async () => {
    const id = DEMO_ID;
    const { document } = (await on.api('GET', `projects/${id}`)) as { document: { points: { id: string; note: string }[] } };
    const kept: string[] = [];
    const victim = on.start.notes().server;
    const edits = (async () => {
      for (const [index, point] of document.points.entries()) {
        if (index === 12) process.kill(victim, 'SIGKILL');
        const changes = [{ entity: 'point', id: point.id, before: point, after: { ...point, note: 'kept' } }];
        const answer = (await on.api('POST', `projects/${id}/change-sets`, { label: 'Note', baseRevision: 0, changes })) as {
          revision?: number;
        };
        if (answer.revision) kept.push(point.id);
      }
    })();
    await edits.catch(() => undefined);
    expect(kept.length).toBeGreaterThanOrEqual(12);
    const after = await eventually(
      'the server started again',
      async () => (await on.api('GET', `projects/${id}`)) as { document: typeof document },
    );
    const notes = new Map(after.document.points.map((point) => [point.id, point.note]));
    expect(kept.filter((pointId) => notes.get(pointId) !== 'kept')).toEqual([]);
  });
});
