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

  it('has nothing that axe-core calls serious on any screen, in light or dark', async () => {
    // What a page remembers is kept for its address, so one is opened first.
    await on.page.open('/site');
    for (const path of [
      '/site',
      '/site?add=device',
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
      '/trace',
    ]) {
      await on.browser.driver.executeScript(`localStorage.setItem('plain-envoy-theme', 'light')`);
      await on.page.open(path);
      await on.page.says('pe-root', 'Bench runs on stand-ins');
      expect(await on.serious())
        .withContext(`${path} in light`)
        .toEqual([]);
      await (await on.page.shows('button[title^=Colours]')).click();
      await on.page.says('button[title^=Colours]', 'dark');
      expect(await on.serious())
        .withContext(`${path} in dark`)
        .toEqual([]);
    }
    await on.browser.driver.executeScript(`localStorage.removeItem('plain-envoy-theme')`);
  });

  it('keeps every acknowledged edit through a kill -9 of the server amid edits and a run', async () => {
    const id = await on.projectId();
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
