import { DEMO_ID } from '@plain-envoy/core/model';
import { By, Key } from 'selenium-webdriver';
import { clientOf } from './modbus.js';
import { onDemo } from './on-demo.js';
import { eventually } from './start.js';

describe('The lines, in a browser', () => {
  const on = onDemo();

  it('says what its two faults are, lets them be mended in the page, and then every route delivers', async () => {
    await on.page.open('/lines');
    await (await on.page.withText('.lines li', 'Kiln bus')).click();
    await on.page.says('[data-port="Fan drive south"] .differs', 'none');
    await on.page.says('.finding', 'Fan drive south is set to 19200 8N1');
    await (await on.page.withText('[data-port="Fan drive south"] button', 'Set as the line')).click();
    await on.page.says('.findings', 'Nothing is wrong with this line');
    await (await on.page.withText('.lines li', 'Loft bus')).click();
    await (await on.page.withText('.finding', 'both have unit ID 5')).click();
    await on.page.says('pe-port-form h2', 'Grain cable 6');
    await on.page.says('pe-port-form mat-error', '6 is free');
    await on.page.retype('pe-port-form input[name=unitId]', '6');
    await on.page.press(Key.ENTER);
    await on.page.says('.pill.findings', /^(?!.*stop)./s);
    await on.page.open('/bench');
    await on.page.says('.screen-head', '125 of 125 routes deliver', 30_000);
  }, 60_000);

  it('lets a fault be found, mended and undone by keyboard alone', async () => {
    await on.page.open('/site');
    await on.page.find('Loft bus');
    await on.page.says('pe-lines .lines li[aria-selected=true]', 'Loft bus');
    await on.page.pressUntil(Key.TAB, 'Members');
    await eventually('the last grain cable', async () => {
      await on.page.press(Key.TAB);
      return (await on.browser.driver.executeScript<string>('return document.activeElement.dataset.port ?? ""')) === 'Grain cable 6';
    });
    await on.page.press(Key.ENTER);
    await eventually('the keyboard in the field that is wrong', async () => (await on.page.focused()) === 'unitId');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press('6', Key.ENTER);
    await on.page.says('.pill.findings', '1 stop');
    await on.page.press(Key.ESCAPE);
    await on.browser.driver.executeScript('document.activeElement.blur()');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.says('.pill.findings', '2 stops');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('sweeps the Loft bus and finds exactly those that are there, and says how long it took beside what it forecast', async () => {
    await on.api('POST', `projects/${DEMO_ID}/bench/stop`, {});
    await on.page.open('/lines?tab=prove');
    await (await on.page.withText('.lines li', 'Loft bus')).click();
    await on.page.retype('input[name=last]', '40');
    await on.page.press(Key.ENTER);
    const told = await on.page.says('.outcome', 'Took', 30_000);
    expect(told).toContain('5 there, 1 answers differently');
    const rows = await on.browser.driver.findElements(By.css('pe-prove tr[data-id]'));
    expect(await Promise.all(rows.map((row) => row.getAttribute('data-id')))).toEqual([
      'unit 1',
      'unit 2',
      'unit 3',
      'unit 4',
      'unit 5',
      'unit 20',
    ]);
    // How the two compare is looked at on a virtual clock, in the engine.
    expect(told).toMatch(/Took [\d.]+ s; forecast at worst 13 s\./);
  }, 60_000);

  it('finds the settings at which a silent device answers, walks to a device, and reckons on every screen', async () => {
    await on.api('POST', `projects/${DEMO_ID}/bench/stop`, {});
    await on.page.open('/lines?tab=prove');
    await (await on.page.withText('.lines li', 'Kiln bus')).click();
    await on.page.retype('input[name=unitId]', '12');
    await on.page.press(Key.ENTER);
    await on.page.says('.outcome tr.best', '19200 8N1');
    await on.page.says('.outcome', 'Took', 30_000);
    await (await on.page.withText('.asks button', 'Walk to it')).click();
    await on.page.says('.steps', 'One register');
    await on.page.says('.steps', 'Plain Envoy, Fan drive');

    await on.browser.driver.executeScript('document.activeElement.blur()');
    await on.page.press('r');
    await on.page.shows('pe-reckoner-drawer');
    await eventually(
      'the keyboard in the search',
      async () => (await on.browser.driver.executeScript<string>('return document.activeElement.type')) === 'search',
    );
    await on.page.press('line-time');
    await on.page.says('pe-reckoner-drawer section', 'T35, ms');
    expect(await on.serious()).toEqual([]);
    await on.page.retype('pe-reckoner-drawer input[name=count]', '126');
    await on.page.says('pe-reckoner-drawer mat-error', 'carries at most 125');
    await on.page.press(Key.ESCAPE);
    await eventually('the drawer closed', async () => (await on.browser.driver.findElements(By.css('pe-reckoner-drawer'))).length === 0);
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);

  it('adds devices like one that is there, with names and unit IDs counted up, and their stand-ins answer', async () => {
    await on.page.open('/site?add=device');
    await on.page.choose('like', 'Grain cable 4', 'pe-add-device');
    await on.page.retype('pe-add-device input[name=count]', '2');
    await on.page.says('pe-add-device', 'Grain cable 7 to Grain cable 8 · unit 21 to unit 22');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-device-panel h2', 'Grain cable 7');
    const gateway = await clientOf('127.40.8.31', on.start.standInsPort, 22);
    await eventually('an answer of the new stand-in', async () => (await gateway.readInputRegisters(0, 1)).data.length === 1);
    gateway.close(() => undefined);
  }, 60_000);

  it('plays a device of one’s own as soon as it is added: it has the registers that its map is given, and holds what is written', async () => {
    await on.page.open('/site?add=device');
    await on.page.retype('pe-add-device input[name=name]', 'Dosing pump');
    await on.page.choose('lineId', 'Process net', 'pe-add-device');
    await on.page.says('pe-add-device', 'Dosing pump · 10.40.8.51');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-device-panel h2', 'Dosing pump');
    expect(await on.page.chosen('standIn', 'pe-device-panel')).toContain('the registers of its map');
    const pump = await clientOf('127.40.8.51', on.start.standInsPort, 255);
    const refusal = async () => pump.readHoldingRegisters(7, 1).catch(({ modbusCode }: { modbusCode: number }) => modbusCode);
    await eventually('a refusal: it has no register yet', async () => (await refusal()) === 2);
    await on.page.open('/registers');
    await on.page.choose('device', 'Dosing pump');
    await on.page.chord(Key.ALT, 'n');
    await on.page.shows('pe-point-form input[name=offset]');
    await on.page.retype('pe-point-form input[name=name]', 'Dose');
    await on.page.retype('pe-point-form input[name=offset]', '7');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-point-grid .ag-row', 'Dose');
    await on.page.open('/bench');
    await on.page.click('button[name=write-tab]');
    await on.page.choose('write-device', 'Dosing pump');
    await on.page.retype('pe-write-panel textarea[name=write-value]', '412');
    await (await on.page.withText('pe-write-panel button', 'Write')).click();
    await on.page.says('pe-write-panel [role=status]', '412');
    expect((await pump.readHoldingRegisters(7, 1)).data).toEqual([412]);
    await on.page.says('pe-write-panel .now', 'now 412', 20_000);
    pump.close(() => undefined);
  }, 90_000);
});
