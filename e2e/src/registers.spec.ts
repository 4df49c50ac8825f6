import { By, Key } from 'selenium-webdriver';
import { deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('The registers, in a browser', () => {
  const on = onDemo();

  it('explains bad input at its place, and keeps what was typed', async () => {
    await on.page.open('/registers');
    await (await on.page.withText('.screen-head button', 'Add point')).click();
    await on.page.shows('pe-point-form input[name=offset]');
    await on.page.retype('pe-point-form input[name=name]', 'Far away');
    await on.page.retype('pe-point-form input[name=offset]', '65536');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-point-form mat-error', 'A table ends at offset 65535.');
    expect(await (await on.page.shows('pe-point-form input[name=offset]')).getAttribute('value')).toBe('65536');

    await on.page.open('/site');
    await (await on.page.withText('pe-site .device', 'Air-on transmitter')).click();
    const unit = '//pe-device-panel//input[@name="unitId"]';
    await (
      await eventually('the unit', async () => (await on.browser.driver.findElements(By.xpath(unit)))[0])
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '248', Key.ENTER);
    await on.page.says('pe-device-panel mat-error', 'Unit IDs on a serial line are 1 to 247; 248 to 255 are reserved');
    expect(await on.browser.driver.findElement(By.xpath(unit)).getAttribute('value')).toBe('248');

    await on.page.open('/routes');
    await on.page.choose('from-device', 'Air-on');
    await on.page.lane('From Air-on transmitter', 'Air-on temperature');
    await on.page.lane('To Kiln controller', 'Damper position');
    await on.page.choose('carry', 'the registers');
    await on.page.says('pe-route-form .problem', 'takes 2 registers (float32) and Damper position 1 register (uint16)');

    await (await on.page.withText('.screen-head button', 'Swap sides')).click();
    await on.page.lane('From Kiln controller', 'Kiln air-on humidity');
    await on.page.lane('To Air-on transmitter', 'Air-on humidity');
    await on.page.says('pe-route-form .problem', 'is in a read-only table');
  });

  it('lets a cell be changed and a point deleted with its routes, and brings both back', async () => {
    await on.page.open('/registers');
    await on.page.focus('input[name=filter]');
    await on.page.press('damper');
    expect(await on.page.isSeenWhole('pe-point-grid [col-id=quality]')).toBeTrue();
    await on.page.cell('Damper set point');
    await on.page.press(Key.ENTER);
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press('Damper wish', Key.ENTER);
    await on.page.cell('Damper wish');
    await on.page.press(Key.DELETE);
    await on.page.says('.mat-mdc-snack-bar-label', 'with 1 route');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.withText('pe-point-grid .ag-row', 'Damper wish');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.withText('pe-point-grid .ag-row', 'Damper set point');
  });

  it('keeps what does not fit in its cell, reads addresses in any notation, and fills down', async () => {
    await on.page.open(`/registers?device=${deviceId('Air-on transmitter')}`);
    await on.page.cell('Serial number', 'address');
    await on.page.press('oven', Key.ENTER);
    await on.page.says('.line.problem', 'is no address in any notation');
    expect(await (await on.page.cell('Serial number', 'address')).getText()).toBe('oven');
    await on.page.press('30151', Key.ENTER);
    await on.page.says('.line.remark', '30151 was taken for offset 150');
    await on.page.chord(Key.ALT, '2');
    await on.page.says('pe-point-grid .ag-row', '330152');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.says('pe-point-grid .ag-row', '30101');

    await on.page.cell('Air-on temperature', 'unit');
    await on.page.chord(Key.SHIFT, Key.ARROW_DOWN);
    await on.page.chord(Key.CONTROL, 'd');
    await on.page.says('.mat-mdc-snack-bar-label, pe-shell', 'Undo');
    await eventually('the unit filled down', async () => (await (await on.page.cell('Air-on humidity', 'unit')).getText()) === '°C');
    await on.page.chord(Key.CONTROL, 'z');
    await eventually('the unit as it was', async () => (await (await on.page.cell('Air-on humidity', 'unit')).getText()) === '%');
  });

  it('lays settings beside what the device holds, writes what wins, and gives a snapshot back, by keyboard', async () => {
    const row = (name: string, cell: string) => on.page.shows(`pe-settings-view tr:has(input[name="wanted-${name}"]) [data-cell=${cell}]`);
    const is = (name: string, cell: string, text: string) =>
      eventually(`${name}: ${text}`, async () => (await (await row(name, cell)).getText()).includes(text));
    const press = async (name: string) => (await on.page.shows(`pe-settings-view button[name=${name}]:enabled`)).sendKeys(Key.ENTER);
    await on.page.open(`/registers?device=${deviceId('Fan drive north')}`);
    await on.page.chord(Key.ALT, 'e');
    await press('read');
    await is('Ramp to top speed', 'side-first', '7.5 s');
    await is('Ramp to top speed', 'verdict', 'differs');
    await is('Comms timeout', 'verdict', 'the same');

    await press('snapshot');
    await on.page.retype('pe-settings-view input[name=note]', 'as delivered');
    await on.page.press(Key.ENTER);
    await is('Ramp to top speed', 'side-second', '7.5 s');

    await on.page.retype('pe-settings-view input[name="wanted-Top speed"]', 'fast');
    await on.page.press(Key.TAB);
    await on.page.says('pe-settings-view mat-error', 'fast');
    await on.page.retype('pe-settings-view input[name="wanted-Top speed"]', '55');
    await on.page.press(Key.TAB);
    await is('Top speed', 'side-wanted', '55.0 Hz');

    await press('all-wanted');
    await press('write');
    await is('Ramp to top speed', 'verdict', 'written and read back');
    await is('Top speed', 'side-first', '55.0 Hz');
    await is('Top speed', 'side-second', '60.0 Hz');

    await press('all-second');
    await press('write');
    await is('Top speed', 'verdict', 'written and read back');
    await is('Top speed', 'side-first', '60.0 Hz');
    await press('back');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.shows('pe-point-grid');
  });

  it('makes the map of a coupler from its modules, by keyboard', async () => {
    await on.page.open(`/registers?device=${deviceId('Floor I/O block')}`);
    await on.page.chord(Key.ALT, 'm');
    await (await on.page.withText('pe-modules-view button', 'Add one')).sendKeys(Key.ENTER);
    await on.page.retype('pe-modules-view input[name=name]', 'Slot 1');
    await on.page.retype('pe-modules-view input[name=inWords]', '2');
    await on.page.choose('range', '4–20 mA', 'pe-modules-view');
    await on.page.retype('pe-modules-view input[name=inAt]', '70000');
    await on.page.press(Key.TAB);
    await on.page.says('pe-modules-view mat-error', '65535');
    await on.page.retype('pe-modules-view input[name=inAt]', '120');
    await on.page.says('pe-modules-view .image', 'Inputs: 2 channels in 4 bytes');
    await (await on.page.shows('pe-modules-view button[name=make]')).sendKeys(Key.ENTER);
    await on.page.says('.mat-mdc-snack-bar-label', '2 points are as the modules of Floor I/O block say');
    await (await on.page.shows('pe-modules-view button[name=back]')).sendKeys(Key.ENTER);
    await on.page.withText('pe-point-grid .ag-row', 'Slot 1 2');
    await on.page.chord(Key.CONTROL, 'z');
    await eventually('the map as it was', async () => !(await on.page.says('pe-registers', 'points')).includes('Slot 1 2'));
  });

  it('takes a column from a spreadsheet into its cells, and looks at a block of columns first', async () => {
    await on.page.open(`/registers?device=${deviceId('Exhaust damper')}`);
    const paste = (text: string) =>
      on.browser.driver.executeScript(
        `const data = new DataTransfer(); data.setData('text/plain', arguments[0]);
         document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`,
        text,
      );
    await on.page.cell('End position open', 'name');
    await paste('Open end\nClosed end\n');
    await on.page.cell('Closed end');
    await paste('a\nb\nc\nd\ne');
    await on.page.says('.line.problem', 'only 3 rows are there from here on. Nothing was changed.');
    await paste('Name\tAddress\tType\nLeakage\t300009\tint16\n');
    await on.page.says('pe-import-view .told', '1 new');
    await on.page.press(Key.ESCAPE);
    await on.page.cell('Closed end');
  });

  it('finds the order of a value that reads wrong, and mends it', async () => {
    await on.page.open(`/registers?device=${deviceId('Plant meter')}`);
    await on.page.cell('Reactive energy');
    await on.page.chord(Key.ALT, 'o');
    await eventually('the keyboard in the question', async () => (await on.page.focused()) === 'expected');
    await on.page.says('pe-order-help', 'hold');
    await on.page.press('476000');
    await on.page.says('pe-order-help tbody tr', 'BADC');
    await on.page.press(Key.ENTER);
    await on.page.says('.mat-mdc-snack-bar-label', 'Reactive energy is now uint32 BADC');
    expect(await (await on.page.cell('Reactive energy', 'order')).getText()).toBe('BADC');
    await on.page.press(Key.ESCAPE);
    await on.page.chord(Key.CONTROL, 'z');
    await eventually('the order as it was', async () => (await (await on.page.cell('Reactive energy', 'order')).getText()) === 'ABCD');
  });

  it('tells whoever leaves a form that what he typed is not saved, by keyboard, and keeps it if he stays', async () => {
    await on.page.open(`/registers?device=${deviceId('Plant meter')}`);
    await on.page.cell('Reactive energy');
    await on.page.press(' ');
    await eventually('the keyboard in the name', async () => (await on.page.focused()) === 'name');
    await on.page.press('X');
    await on.page.press(Key.ESCAPE);
    await on.page.says('pe-leave-dialog', 'What was typed for the point Reactive energy is not saved.');
    await eventually('the keyboard in the question', async () => (await on.page.focused()) === 'stay');
    await on.page.press(Key.ENTER);
    await eventually('the question closed', async () => (await on.browser.driver.findElements(By.css('pe-leave-dialog'))).length === 0);
    expect(await (await on.page.shows('pe-point-form input[name=name]')).getAttribute('value')).toContain('X');
    await on.page.click('a[href$="/site"]');
    await on.page.click('pe-leave-dialog button[name=let-go]');
    await on.page.says('pe-site h1', 'Site');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('imports a pasted map of 88 input registers, sees that it is shifted by one, and shifts it', async () => {
    await on.page.open(`/registers?device=${deviceId('Floor I/O block')}`);
    await on.page.cell('Turner position');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press(Key.DELETE);
    await on.page.says('.nothing-yet', 'has no points yet');

    await on.page.click('button[name=import]');
    const kinds: Record<number, string> = {
      0: 'int16;°C;0.1',
      1: 'int16;°C;0.1',
      2: 'uint16;%;0.1',
      30: 'uint16;m;0.1',
      31: 'uint16;m/min;0.1',
    };
    for (const floor of [8, 16]) [0, 1, 2].forEach((index) => (kinds[floor + index] = kinds[index]!));
    const rows = Array.from({ length: 88 }, (_, index) => `Input ${index};${30_002 + index};${kinds[index] ?? 'uint16;;'}`);
    const box = await on.page.shows('pe-import-view textarea');
    await on.browser.driver.executeScript(
      `arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input', { bubbles: true }));`,
      box,
      ['Name;Address;Type;Unit;Scale', ...rows].join('\n'),
    );
    await (await on.page.withText('pe-import-view button', 'Look at it')).click();
    await on.page.says('pe-import-view .told', '88 new');
    await on.page.click('button[name=accept]');
    await on.page.says('.mat-mdc-snack-bar-label', 'Imported: 88 new');

    await on.page.click('button[name=align]');
    await (await on.page.withText('pe-align-view .head button', 'Read')).click();
    await on.page.says('pe-align-view .remark', 'shift by −1', 30_000);
    await (await on.page.withText('pe-align-view .remark button', 'Shift by −1')).click();
    await on.page.says('pe-align-view', 'suits the map as it is');
    expect((await on.page.says('pe-align-view tbody tr', 'Input 0')).split(' ')[0]).toBe('0');
    for (let undo = 0; undo < 3; undo++) await on.page.chord(Key.CONTROL, 'z');
    await on.page.says('pe-align-view tbody', 'Turner position');
  });
});
