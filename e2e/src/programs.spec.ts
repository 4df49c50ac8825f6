import { recordedExchange } from '@plain-envoy/core/testing';
import { writePcapng } from '@plain-envoy/core/trace';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { onDemo, deviceId } from './on-demo.js';
import { clientOf } from './modbus.js';
import { eventually } from './start.js';

const MINUTE_MS = 60_000;

describe('Programs, in a browser', () => {
  const on = onDemo();

  it('a device imported from the table of its manual moves, and follows what it is told, within a minute of clicking', async () => {
    const from = performance.now();
    await on.page.open('/site?add=device');
    await on.page.retype('pe-add-device input[name=name]', 'Dosing pump');
    await on.page.choose('lineId', 'Process net', 'pe-add-device');
    await on.page.says('pe-add-device', 'Dosing pump · 10.40.8.51');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-device-panel h2', 'Dosing pump');

    await on.page.open('/registers');
    await on.page.choose('device', 'Dosing pump');
    await on.page.click('button[name=import]');
    const table = [
      'Name;Address;Type;Unit;Scale',
      'Pressure;30001;uint16;bar;0.01',
      'Strokes;30002;uint16;;',
      'Flow;30003;float32;l/h;',
      'Set point;40001;uint16;l/h;',
    ];
    const box = await on.page.shows('pe-import-view textarea');
    await on.browser.driver.executeScript(
      `arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input', { bubbles: true }));`,
      box,
      table.join('\n'),
    );
    await (await on.page.withText('pe-import-view button', 'Look at it')).click();
    await on.page.says('pe-import-view .told', '4 new');
    await on.page.click('button[name=accept]');
    await on.page.says('.mat-mdc-snack-bar-label', 'Imported: 4 new');

    await on.page.chord(Key.ALT, 's');
    await on.page.says('[data-name=says]', 'No program');
    const behave = async (name: string, said: Record<string, string>, typed: Record<string, string> = {}) => {
      await on.page.choose('behaviour', name, 'pe-program-view');
      for (const [key, point] of Object.entries(said)) await on.page.choose(key, point, 'pe-behaviour-form');
      for (const [key, value] of Object.entries(typed)) await on.page.retype(`pe-behaviour-form input[name=${key}]`, value);
      await on.page.click('button[name=write]');
      await on.page.says('.cm-content', name);
    };
    await behave('Moves like a sine', { value: 'Pressure' }, { low: '2', high: '4', period: '3' });
    await behave('Counts', { value: 'Strokes' }, { every: '0.2' });
    await behave('Ramps to a set point', { value: 'Flow', goal: 'Set point' }, { rate: '40' });
    await on.page.says('[data-name=says]', 'Sound, and not applied yet.');
    await on.page.chord(Key.CONTROL, Key.ENTER);
    await on.page.says('[data-name=says]', 'Runs.');
    await eventually('a value beside its line', async () => (await on.browser.driver.findElements({ css: '.beside-line' })).length >= 3);

    const pump = await clientOf('127.40.8.51', on.start.standInsPort, 255);
    const pressures = new Set<number>();
    await eventually('a pressure that moves', async () => {
      const [pressure] = (await pump.readInputRegisters(0, 1)).data;
      pressures.add(pressure!);
      return pressures.size > 5;
    });
    expect([...pressures].filter((raw) => raw < 200 || raw > 400)).toEqual([]);
    const [strokes] = (await pump.readInputRegisters(1, 1)).data;
    await pump.writeRegister(0, 80);
    const flow = async () => (await pump.readInputRegisters(2, 2)).buffer.readFloatBE(0);
    await eventually('a flow that is on its way', async () => (await flow()) > 5);
    expect(await flow()).toBeLessThan(80);
    await eventually('the flow that it was told', async () => (await flow()) === 80);
    expect((await pump.readInputRegisters(1, 1)).data[0]!).toBeGreaterThan(strokes!);
    pump.close(() => undefined);
    expect(performance.now() - from).toBeLessThan(MINUTE_MS);
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);

  it('a drive does what a recording of it shows, as a program that is learned, and as the recording itself', async () => {
    const recorded = Array.from({ length: 60 }, (_, second) =>
      recordedExchange({ endpointId: '10.40.8.30:502', unit: 11, atMs: second * 1000, ms: 8 }, 4, [
        75,
        600 - 4 * Math.abs(30 - second),
        1024,
      ]),
    );
    const folder = mkdtempSync(join(tmpdir(), 'envoy-recording-'));
    const file = join(folder, 'drive.pcapng');
    writeFileSync(
      file,
      writePcapng(recorded, () => ({ ip: '10.40.8.30', port: 502 })),
    );
    await on.page.open(`/registers?device=${deviceId('Fan drive north')}`);
    await on.page.chord(Key.ALT, 's');
    const choose = async () => {
      await on.page.click('button[name=learn-from]');
      await on.page.choose('from', 'a recording of it', 'pe-learn-form');
      await (await on.page.shows('pe-learn-form input[type=file]')).sendKeys(file);
      await on.page.says('pe-learn-form', '10.40.8.30:502, unit 11');
    };
    await choose();
    await on.page.click('button[name=learn]');
    await on.page.says('tr[data-id=Top_speed]', 'once up and down in');
    await on.page.says('tr[data-id=Pulses_per_turn]', 'stood still');
    await on.page.click('button[name=write]');
    await on.page.says('[data-name=says]', 'Sound, and not applied yet.');
    await on.page.says('.cm-content', 'Pulses_per_turn := 1024;');
    await on.page.click('button[name=revert]');

    await choose();
    await on.page.click('button[name=play]');
    await on.page.says('[data-name=recording]', 'It plays drive.pcapng, in which it is 10.40.8.30:502, unit 11');
    await on.page.says('[data-name=recording]', '0:0');
    const drive = await clientOf('127.40.8.30', on.start.standInsPort, 11);
    const [ramp, top, pulses] = (await drive.readHoldingRegisters(4, 3)).data;
    expect([ramp, pulses]).toEqual([75, 1024]);
    await eventually('a top speed as it was a second later', async () => (await drive.readHoldingRegisters(5, 1)).data[0] === top! + 4);
    const refused = await drive.readHoldingRegisters(0, 1).then(
      () => 0,
      ({ modbusCode }: { modbusCode: number }) => modbusCode,
    );
    expect(refused).withContext('not in the recording').toBe(2);
    await on.page.click('button[name=stop-recording]');
    await on.page.says('[data-name=says]', 'Runs.');
    await eventually('its own pulses', async () => (await drive.readHoldingRegisters(6, 1)).data[0] === 2048);
    drive.close(() => undefined);
    rmSync(folder, { recursive: true, force: true });
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);

  it('says where a program is wrong or stopped, on its screen and on the bench, and leaves the others as they are', async () => {
    await on.page.open(`/registers?device=${deviceId('Exhaust damper')}`);
    await on.page.chord(Key.ALT, 's');
    await on.page.says('[data-name=says]', 'Runs.');
    const write = async (text: string) => {
      await on.page.focus('.cm-content');
      await on.page.chord(Key.CONTROL, 'a');
      await on.page.press(text);
    };
    await write('PROGRAM P Positon := 5; END_PROGRAM');
    await on.page.says('[data-name=says]', 'Did you mean Position?');
    await write('PROGRAM P VAR n : UINT; END_VAR Position := 100 / n; END_PROGRAM');
    await on.page.says('[data-name=says]', 'Sound, and not applied yet.');
    await on.page.chord(Key.CONTROL, Key.ENTER);
    await on.page.says('[data-name=says]', 'Stopped in line 1, scan 1: Division by zero.');
    await on.page.open('/bench');
    await on.page.says('pe-stand-ins-table', 'Its program stopped in line 1: Division by zero.');
    await on.page.open(`/registers?device=${deviceId('Fan drive north')}`);
    await on.page.chord(Key.ALT, 's');
    await on.page.says('[data-name=says]', 'Runs.');
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);
});
