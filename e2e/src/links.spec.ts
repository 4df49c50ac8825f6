import { DEMO_ID, type ProjectDocument } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { DELIVERING, deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('A cyclic link, in a browser', () => {
  const on = onDemo();
  const documentOf = async () => ((await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument }).document;

  it('gets a value of bits that are marked by keyboard alone, beside what comes of them, and is told in Structured Text', async () => {
    await on.page.open(`/registers?device=${deviceId('Silo conveyor')}`);
    await on.page.find('Blocks of a station on a cyclic link');
    await on.page.says('[data-end="Kiln controller"]', /blocks come and go · LINK is lit · \d+ came, 0 stayed away/);
    expect(await on.serious()).toEqual([]);
    await on.page.pressUntil(Key.TAB, 'byte 0, bit 7', 80);
    for (let rows = 0; rows < 14; rows++) await on.page.press(Key.ARROW_DOWN);
    for (let bits = 1; bits < 8; bits++) await on.page.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await on.page.says('pe-link-view .draw', '8 bits from bit 0 of byte 14');
    await on.page.press(Key.ENTER);
    for (let tries = 0; (await on.page.focused()) !== 'keep' && tries < 30; tries++) await on.page.chord(Key.SHIFT, Key.TAB);
    await on.page.press(Key.ENTER);
    await eventually('its point', async () =>
      (await documentOf()).points.some(({ name, table }) => name === 'Value 7' && table === 'holding'),
    );
    for (let tries = 0; !(await on.page.focused()).startsWith('as-program') && tries < 5; tries++) await on.page.press(Key.TAB);
    await on.page.press(Key.ENTER);
    await on.page.says('pe-link-program-dialog pre', /Value_7 : UINT; \(\* input byte 14 \*\)[^]*FUNCTION_BLOCK SiloConveyorRead/);
    expect(await on.serious()).toEqual([]);
    await on.page.press(Key.ESCAPE);
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);

  it('that is refused is named on the bench with what its lamps show, and runs again once that is undone', async () => {
    const port = (await documentOf()).ports.find((row) => row.kind === 'cyclic' && row.role === 'opens')!;
    const changes = [{ entity: 'port', id: port.id, before: port, after: { ...port, outputBytes: 14 } }];
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING, 30_000);
    await on.api('POST', `projects/${DEMO_ID}/change-sets`, { label: 'Another size', baseRevision: 0, changes });
    await on.page.click('button[name=wrong]');
    const told = await on.page.says('[data-diagnosis="Silo conveyor"]', 'refuses Silo link', 30_000);
    expect(told).toContain('It has 16 bytes in and 12 out, and is opened with 16 bytes in and 14 out.');
    expect(told).toContain('Kiln controller: LINK blinks twice and pauses');
    await on.page.chord(Key.CONTROL, 'z');
    await eventually('no diagnosis', async () => (await on.page.texts('[data-diagnosis="Silo conveyor"]')).length === 0, 30_000);
    await on.page.says('.screen-head', DELIVERING, 30_000);
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);
});
