import { Key } from 'selenium-webdriver';
import { clientOf } from './modbus.js';
import { onDemo } from './on-demo.js';
import { eventually } from './start.js';

const TEXT_PORT = '127.40.8.40';

describe('The terminal of a text line, in a browser', () => {
  const on = onDemo();

  it('shows what goes over the cable, sends what is typed, by keyboard alone, and the weight arrives in the registers', async () => {
    await on.page.open('/bench?view=terminal');
    await on.page.focus('button[name=open]');
    await on.page.press(Key.ENTER);
    await on.page.says('[data-name=state]', 'open, 9600 7E1');
    await on.page.says('pe-table .boxed', '<CR>');
    await on.page.says('pe-table', /Weigh indicator sends Weighing: number \d+, gross \d+, status /);
    await on.page.focus('pe-terminal-view input[name=text]');
    await on.page.press('P<STX>');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-table', 'P<STX><CR>');
    await on.page.says('pe-table', '50 02 0D');
    await on.page.press(Key.ARROW_UP);
    await eventually(
      'what was sent before',
      async () => (await (await on.page.shows('input[name=text]')).getAttribute('value')) === 'P<STX>',
    );

    const textPort = await clientOf(TEXT_PORT, on.start.standInsPort, 255);
    await eventually('a weight that is valid', async () => {
      const [, high, low, , valid] = (await textPort.readInputRegisters(0, 5)).data;
      return (valid! & 1) === 1 && high! * 65_536 + low! > 0;
    });
    textPort.close(() => undefined);

    await on.page.open('/trace');
    await on.page.focus('input[name=text]');
    await on.page.press('weigh indicator');
    await on.page.says('.list', /Weigh indicator sends Weighing: number \d+, gross \d+, status /, 20_000);
    await on.page.focus('.list');
    await on.page.press(Key.ARROW_UP);
    await on.page.says('pe-exchange-view', 'gross');
    await on.page.says('pe-exchange-view .points', /Gross weight\s*\d+ kg/);
    await on.page.says('pe-exchange-view .routes', 'Gross weight');
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);
});
