import { DEMO_ID } from '@plain-envoy/core/model';
import { type ProjectDocument } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('The rounds, in a browser', () => {
  const on = onDemo();

  it('shows which line is too busy, and brings a hasty schedule within its limits by accepting its advice', async () => {
    const id = DEMO_ID;
    const { document, revision } = (await on.api('GET', `projects/${id}`)) as { document: ProjectDocument; revision: number };
    const slower = <T extends { kind: string }>(rows: readonly T[]) => rows.filter(({ kind }) => kind === 'serial');
    const changes = [
      ...document.rounds.map((row) => ({ entity: 'round', id: row.id, before: row, after: { ...row, periodMs: 100 } })),
      ...slower(document.lines).map((row) => ({ entity: 'line', id: row.id, before: row, after: { ...row, baud: 9600 } })),
      ...slower(document.ports).map((row) => ({ entity: 'port', id: row.id, before: row, after: { ...row, baud: 9600 } })),
    ];
    await on.api('POST', `projects/${id}/change-sets`, { label: 'Everything every 100 ms at 9600 baud', baseRevision: revision, changes });
    await on.page.open('/rounds');
    await on.page.says('pe-rounds .sentence', /Kiln bus, one request at a time, is asked for \d{3} % of its time/);
    const late = async () =>
      Number(/(\d+) past their limit/.exec(await on.page.says('pe-rounds .screen-head', /\d+ past their limit/))![1]);
    expect(await late()).toBeGreaterThan(10);
    for (let step = 1; (await late()) > 0; step++) {
      expect(step).withContext('advice accepted').toBeLessThan(6);
      const before = await late();
      await on.page.click('button[name=accept]');
      await eventually('fewer past their limit', async () => (await late()) < before);
    }
    await on.page.says('pe-rounds .screen-head', ' 0 past their limit');
  });

  it('answers what if by keyboard, and takes over what is liked', async () => {
    await on.page.open('/rounds');
    await on.page.says('pe-rounds .screen-head', 'every period is kept');
    /** Of what, and then what about it. */
    const suppose = async (of: string, what: string) => {
      await on.page.choose('what-if', of);
      await (await on.page.shows(`[data-suppose=${what}]`)).sendKeys(Key.ENTER);
    };
    await suppose('Fan drive north', 'dead');
    await on.page.says('pe-what-if-bar .chip', 'Fan drive north is dead');
    await on.page.says('pe-request-table', /500 → \d/);
    await suppose('Kiln, fast', 'period');
    await on.page.focus('pe-what-if-bar input[type=range]');
    await on.page.press(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await on.page.says('pe-what-if-bar .chip', '800 ms');
    await (await on.page.shows('button[name=take-over]')).sendKeys(Key.ENTER);
    await eventually('the new period', async () => {
      const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
      return document.rounds.find(({ name }) => name === 'Kiln, fast')?.periodMs === 800;
    });
    await (await on.page.shows('button[name=measured]')).sendKeys(Key.ENTER);
    await on.page.says('pe-request-table thead', 'measured mean');
    await on.page.says('pe-request-table tbody tr', /800 .*80\d|800 .*79\d/, 20_000);
    expect(await on.browser.complaints()).toEqual([]);
  });
});
