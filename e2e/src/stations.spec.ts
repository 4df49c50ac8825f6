import { DEMO_ID, type ProjectDocument } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { DELIVERING, deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('A telecontrol link, in a browser', () => {
  const on = onDemo();
  const documentOf = async () => ((await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument }).document;

  it('brings what the controller writes to the control station, and its commands back, by keyboard alone', async () => {
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING, 30_000);
    await on.page.find('Control station of a telecontrol link');
    await on.page.says('[data-name=link]', /The link is up · \d+ events in the archive, 0 came again/);
    await on.page.says('pe-station-view tr', /Power drawn\s*float 0\s*[\d.]+ kW\s*good/, 30_000);
    expect(await on.serious()).toEqual([]);
    await on.page.choose('value', 'to 30 %', '[data-command=Curtailment]');
    await on.page.pressUntil(Key.TAB, 'send', 10);
    await on.page.press(Key.ENTER);
    await on.page.says('[data-command=Curtailment]', /to 30 %: done/, 15_000);
    await on.page.find('Routes on the bench');
    await eventually(
      'the curtailment at the kiln controller',
      async () => (await on.page.route('Curtailment'))['destination-value'] === 'to 30 %',
      15_000,
    );
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);

  it('that has another address is named on the bench, and runs again once that is undone', async () => {
    const faults = (list: unknown[]) =>
      on.api('PUT', `projects/${DEMO_ID}/stand-ins/${deviceId('Grid converter')}/faults`, { faults: list });
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING, 30_000);
    await faults([{ kind: 'wrong unit' }]);
    await on.page.click('button[name=wrong]');
    await on.page.says('[data-diagnosis="Grid station"]', 'one of them is set to another than 12 and 13', 60_000);
    await faults([]);
    await eventually('no diagnosis', async () => (await on.page.texts('[data-diagnosis="Grid station"]')).length === 0, 60_000);
    expect(await on.browser.complaints()).toEqual([]);
  }, 150_000);

  it('gets a point more, placed where the controller reaches it', async () => {
    await on.page.open(`/registers?device=${deviceId('Grid station')}`);
    await on.page.find('Points of a telecontrol station');
    await on.page.says('pe-events-view', 'It is the control station of Grid link, by IEEE 1815');
    expect(await on.serious()).toEqual([]);
    await on.page.focus('button[name=add-point]');
    await on.page.press(Key.ENTER);
    await on.page.retype('[data-point="7"] input[name=index]', '-1');
    await on.page.says('[data-point="7"] mat-error', 'Counts from 0.');
    await on.page.retype('[data-point="7"] input[name=index]', '9');
    await on.page.press(Key.ENTER);
    await eventually('its point', async () =>
      (await documentOf()).points.some(({ name, table, place }) => name === 'Point 8' && table === 'input' && place.kind === 'event'),
    );
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);
});
