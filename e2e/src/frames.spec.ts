import { DEMO_ID, type ProjectDocument } from '@plain-envoy/core/model';
import { By, Key } from 'selenium-webdriver';
import { deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('The frames of a device on CAN, in a browser', () => {
  const on = onDemo();
  const signalsOf = async (frame: string) => {
    const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
    const { id } = document.frames.find(({ name }) => name === frame)!;
    return document.points.flatMap(({ name, place }) =>
      place.kind === 'signal' && place.frameId === id ? [`${name}: ${place.bits} from ${place.firstBit}`] : [],
    );
  };

  it('get a signal of bits that are marked by keyboard alone, beside what comes of them', async () => {
    await on.page.open(`/registers?device=${deviceId('Floor turner')}`);
    await on.page.find('Frames of a device on CAN');
    await on.page.says('pe-frames-view [data-name=counters]', /\d+ came · every (9|1\d)\d/);
    expect(await on.serious()).toEqual([]);
    await on.page.press(Key.TAB);
    expect(await on.page.focused()).toBe('Frame');
    await on.page.press('Ali');
    await on.page.says('pe-frames-view h3 + .parts', 'the frame is a life sign');
    await on.page.pressUntil(Key.TAB, 'byte 0, bit 7');
    for (let bits = 1; bits < 4; bits++) await on.page.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await on.page.says('pe-frames-view .draw', '4 bits from bit 4');
    await on.page.press(Key.ENTER);
    await eventually('the signal', async () => (await on.browser.driver.findElements(By.css('[data-signal]'))).length === 1);
    for (let tries = 0; (await on.page.focused()) !== 'keep' && tries < 20; tries++) await on.page.chord(Key.SHIFT, Key.TAB);
    await on.page.press(Key.ENTER);
    await eventually('its point', async () => (await signalsOf('Alive')).join() === 'Signal 1: 4 from 4');
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);

  it('are seen on the bench, each with its time and the bytes that change', async () => {
    await on.page.open('/bench?view=can');
    await on.page.says('pe-can-view [data-name=bus]', /0 frames destroyed · 0 acknowledged by nobody/);
    await on.page.says('pe-can-view .stations', 'Floor turner: error active');
    await on.page.says('pe-can-view tbody', 'Position, of Floor turner');
    await on.page.shows('pe-can-view td .moved');
    expect(await on.serious()).toEqual([]);
    const log = await fetch(`${on.start.address}${await (await on.page.shows('[data-name=log]')).getDomAttribute('href')}`);
    expect((await log.text()).split('\n')[0]).toMatch(/^\(\d+\.\d+\) can0 18A0[0-9A-F]{4}#[0-9A-F]+$/);
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);
});
