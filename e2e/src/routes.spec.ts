import { DEMO_ID } from '@plain-envoy/core/model';
import { type ProjectDocument } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('The routes, in a browser', () => {
  const on = onDemo();

  it('lets a route be added by keyboard alone; its value arrives, and it is there after a reload', async () => {
    await on.page.open('/site');
    await on.page.find('Kiln controller W75');
    await on.page.says('pe-registers h1', 'Registers');
    await on.page.pressUntil(Key.TAB, 'Add point');
    await on.page.press(Key.ENTER);
    await on.page.shows('pe-point-form');
    await eventually('the keyboard in the name', async () => (await on.page.focused()) === 'name');
    await on.page.press('Drive timeout');
    await on.page.press(Key.ENTER);
    await on.page.withText('pe-point-grid .ag-row', 'Drive timeout');

    await on.page.find('Routes');
    await on.page.says('pe-routes h1', 'Routes');
    await on.page.pressUntil(Key.TAB, 'Source device');
    await on.page.press('Fan drive n', Key.ENTER);
    await on.page.says('pe-bank', 'Status word');
    await on.page.pressUntil(Key.TAB, 'Status word');
    // What has no route here is folded away, until the keyboard goes on past the last lane.
    await on.page.pressUntil(Key.ARROW_DOWN, 'Comms timeout');
    await on.page.press(Key.ENTER);
    await on.page.says('.remark', 'is the source');
    await eventually('the keyboard in the other bank', async () => (await on.page.focused()).includes('Fan north runs'));
    await on.page.pressUntil(Key.ARROW_DOWN, 'Drive timeout');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-route-form', 'New route');
    await eventually('the keyboard in the name', async () => (await on.page.focused()) === 'name');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-routes .remark', 'Kiln controller reads 1 holding register');

    const row = await eventually('its value at the destination', async () => {
      const cells = await on.page.route('Comms timeout');
      if (cells['quality']?.includes('good') && cells['destination-raw'] === '001E') return cells;
      throw new Error(`The table shows ${JSON.stringify(cells)}`);
    });
    expect(row['source-value']).toBe('3.0 s');
    await on.browser.driver.navigate().refresh();
    await on.page.says('pe-route-form', 'Comms timeout, Fan drive north 3');
    expect(await on.page.routeNames()).toContain('Comms timeout');

    await on.page.press(Key.ESCAPE);
    await on.browser.driver.executeScript('document.activeElement.blur()');
    await on.page.chord(Key.CONTROL, 'z');
    await eventually('the route undone', async () => !(await on.page.routeNames()).includes('Comms timeout'));
    await on.page.chord(Key.CONTROL, 'y');
    await eventually('the route done again', async () => (await on.page.routeNames()).includes('Comms timeout'));
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('carries sixteen points one way and sixteen the other by keyboard, in less than twenty seconds', async () => {
    const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
    const owner = document.devices.find(({ name }) => name === 'Burner control')!;
    const like = document.points.find(({ deviceId, name }) => deviceId === owner.id && name === 'Air set point')!;
    const made = ['Out', 'Back'].flatMap((name, block) =>
      Array.from({ length: 16 }, (_, index) => {
        const id = `019aa000-0000-7000-8000-0000000e${block}${String(index).padStart(3, '0')}`;
        const number = String(index + 1).padStart(2, '0');
        return { ...like, id, name: `${name} ${number}`, type: 'uint16', scale: null, unit: '', offset: 100 + 20 * block + index };
      }),
    );
    const changes = made.map((after) => ({ entity: 'point', id: after.id, before: null, after }));
    const { revision: baseRevision } = (await on.api('GET', `projects/${document.project.id}`)) as { revision: number };
    await on.api('POST', `projects/${document.project.id}/change-sets`, { label: 'Points to carry', baseRevision, changes });

    await on.page.open('/routes');
    await on.page.says('pe-routes h1', 'Routes');
    await on.page.pressUntil(Key.TAB, 'Source device');
    const began = Date.now();
    await on.page.press('Burner', Key.ENTER);
    await on.page.press(Key.TAB);
    await eventually('the keyboard in the filter', async () => (await on.page.focused()).startsWith('Filter'));
    await on.page.press('Out');
    await on.page.pressUntil(Key.TAB, 'Out 01');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press(Key.ENTER);
    await eventually('the keyboard in the first register', async () => (await on.page.focused()) === 'first');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press('W300');
    await on.page.says('pe-order-panel button[type=submit]', 'Make 16 routes and 16 points');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-routes .screen-head', '16 routes here');

    await (await on.page.withText('.screen-head button', 'Swap sides')).sendKeys(Key.ENTER);
    await on.page.retype('input[name=filter]', 'Back');
    await on.page.pressUntil(Key.TAB, 'Back 01');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press(Key.ENTER);
    await eventually('the keyboard in the first register', async () => (await on.page.focused()) === 'first');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press('W320');
    await on.page.says('pe-order-panel button[type=submit]', 'Make 16 routes and 16 points');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-routes .screen-head', '16 routes here');
    expect(Date.now() - began).toBeLessThan(20_000);
    const after = (await on.api('GET', `projects/${document.project.id}`)) as { document: ProjectDocument };
    expect(after.document.routes.length).toBe(document.routes.length + 32);
    expect(after.document.points.filter(({ name }) => /^Burner control Back \d\d$/.test(name)).length).toBe(16);
    await (await on.page.withText('.bar button', 'Undo')).click();
    await on.page.says('pe-routes .screen-head', '0 routes here');
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);
});
