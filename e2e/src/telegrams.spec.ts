import { type Change, deletion, DEMO_ID, type DeviceTelegram, type ProjectDocument } from '@plain-envoy/core/model';
import { messageOf } from '@plain-envoy/core/place';
import { Key } from 'selenium-webdriver';
import { clientOf } from './modbus.js';
import { deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';

const CONTROLLER = '127.40.8.10';

/** A program that sends a text twice a second. */
function sending(text: string): string {
  return `PROGRAM Sender
VAR
  every : TON;
END_VAR
  every(IN := TRUE, PT := T#500ms);
  IF every.Q THEN
    every(IN := FALSE);
    SEND('${text}');
  END_IF;
END_PROGRAM
`;
}

describe('The telegrams of a device, in a browser', () => {
  const on = onDemo();

  /** Changes rows of the project as it is now. */
  async function change(label: string, changesOf: (document: ProjectDocument) => Change[]): Promise<void> {
    const { document, revision } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument; revision: number };
    const body = { label, baseRevision: revision, changes: changesOf(document) };
    expect(await on.api('POST', `projects/${DEMO_ID}/change-sets`, body)).toEqual(
      jasmine.objectContaining({ revision: revision + 1 }) as never,
    );
  }

  /** Takes away what the demo knows of the texts of a device, which sends this one again and again. */
  async function forget(device: string, text: string): Promise<void> {
    await change('Without its texts', (document) => withoutTexts(document, device, text));
  }

  function withoutTexts(document: ProjectDocument, device: string, text: string): Change[] {
    const changes = new Map<string, Change>();
    const own = document.telegrams.filter((telegram) => telegram.deviceId === deviceId(device));
    for (const { id, place } of document.points)
      if (own.some((telegram) => telegram.id === messageOf(place)))
        for (const change of deletion(document, 'point', id)) changes.set(change.id, change);
    for (const telegram of own) changes.set(telegram.id, { entity: 'telegram', id: telegram.id, before: telegram, after: null });
    const row = document.devices.find(({ id }) => id === deviceId(device))!;
    changes.set(row.id, { entity: 'device', id: row.id, before: row, after: { ...row, program: sending(text) } });
    return [...changes.values()];
  }

  /** From lines to a kept telegram with points of its fields, by keyboard alone. */
  async function describeTexts(device: string, lines: readonly string[], name: string): Promise<void> {
    await on.page.open(`/registers?device=${deviceId(device)}`);
    await on.page.says('pe-registers', 'has no points yet');
    await on.page.chord(Key.ALT, 't');
    await on.page.focus('textarea[name=samples]');
    await on.page.press(lines.join('\n'));
    await on.page.focus('button[name=propose]');
    await on.page.press(Key.ENTER);
    await on.page.says('[data-name=fits]', `${lines.length} of ${lines.length} samples match.`);
    await on.page.focus('pe-telegrams-view input[name=name]');
    await on.page.press(name, Key.ENTER);
    await on.page.says('pe-telegrams-view h2', 'Telegrams of');
    await on.page.says('[data-name=counters]', 'sound', 20_000);
  }

  /** A route from a field to a new word of the controller, by keyboard alone. */
  async function carry(device: string, field: string, word: string): Promise<void> {
    await on.page.find('Routes');
    await on.page.says('pe-routes h1', 'Routes');
    await on.page.pressUntil(Key.TAB, 'Source device');
    await on.page.press(device, Key.ENTER);
    await on.page.says('pe-bank', field);
    await on.page.lane(`From ${device}`, field);
    await on.page.says('.remark', 'is the source');
    // The words of the batch are the last of the controller.
    await on.page.focus('pe-bank ul[aria-label="To Kiln controller"] [role=option][tabindex="0"]');
    await on.page.press(Key.END);
    await on.page.pressUntil(Key.ARROW_UP, word);
    await on.page.press(Key.ENTER);
    await on.page.says('pe-route-form', 'New route');
    await eventually('the keyboard in the name', async () => (await on.page.focused()) === 'name');
    await on.page.press(Key.ENTER);
    await eventually('the route', async () => {
      const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
      return document.routes.some(({ sourceId }) => document.points.some(({ id, name }) => id === sourceId && name === field));
    });
  }

  it('go from pasted lines ended by CR to a value in a register of the controller, by keyboard alone', async () => {
    await forget('Weigh indicator', '0042;+018405;S;76$R');
    await describeTexts('Weigh indicator', ['0042;+018405;S;76<CR>', '0042;+017155;M;67<CR>', '0043;+000000;S;7F<CR>'], 'Weighing');
    await carry('Weigh indicator', 'Field 2', 'Batch gross weight');
    const controller = await clientOf(CONTROLLER, on.start.standInsPort, 255);
    await eventually(
      'a weight in the controller',
      async () => {
        const [high, low] = (await controller.readHoldingRegisters(202, 2)).data;
        return high! * 65_536 + low! > 0;
      },
      30_000,
    );
    controller.close(() => undefined);
    expect(await on.browser.complaints()).toEqual([]);
  }, 120_000);

  it('go the same way where they are of a fixed length and have no end mark', async () => {
    await forget('Moisture analyser', 'MO0001 04.30% T 061.5C  ');
    await describeTexts(
      'Moisture analyser',
      ['MO0001 04.30% T 061.5C  ', 'MO0002 04.33% T 061.4C  ', 'MO0003 04.31% T 061.7C  '],
      'Sample',
    );
    const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
    const moisture = document.points.find(({ deviceId: id, scale }) => id === deviceId('Moisture analyser') && scale !== null)!;
    expect(moisture.scale).toEqual({ factor: 0.01, offset: 0 });
    await carry('Moisture analyser', moisture.name, 'Batch moisture');
    const controller = await clientOf(CONTROLLER, on.start.standInsPort, 255);
    await eventually('a moisture in the controller', async () => (await controller.readHoldingRegisters(206, 1)).data[0]! > 400, 30_000);
    controller.close(() => undefined);
    expect(await on.browser.complaints()).toEqual([]);
  }, 120_000);

  it('are read as they are described, and what does not match says why beside its line', async () => {
    await on.page.open(`/registers?device=${deviceId('Weigh indicator')}`);
    await on.page.chord(Key.ALT, 't');
    await on.page.says('[data-name=fits]', '3 of 3 samples match.');
    await on.page.focus('pe-telegrams-view input[name=end]');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press('<LF>');
    await on.page.says('[data-name=fits]', '0 of 3 samples match.');
    await on.page.says('pe-table', 'It does not end with 0A.');
    await on.page.chord(Key.CONTROL, 'a');
    await on.page.press('averylongendmark');
    await on.page.focus('button[name=keep]');
    await on.page.press(Key.ENTER);
    await on.page.shows('pe-telegrams-view mat-error');
    expect(await (await on.page.shows('input[name=end]')).getAttribute('value')).toBe('averylongendmark');
  }, 60_000);

  it('lie in the image of the converter, whose bytes are written by hand and seen on the other side', async () => {
    await on.page.open(`/registers?device=${deviceId('Text port')}`);
    await on.page.focus('button[name=image]');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-image-view .value', 'Gross weight');
    await on.page.focus('[data-byte="0"]');
    for (let step = 0; step < 4; step++) await on.page.press(Key.ARROW_DOWN);
    await on.page.says('pe-image-view h3', 'Byte 64: free');
    await on.page.focus('input[name=poke]');
    await on.page.press('12 34', Key.ENTER);
    await on.page.says('[data-name=held]', '12 · 18');
    const textPort = await clientOf('127.40.8.40', on.start.standInsPort, 255);
    expect((await textPort.readInputRegisters(32, 1)).data).toEqual([0x1234]);
    textPort.close(() => undefined);
    expect(await on.serious()).toEqual([]);
    expect(await on.browser.complaints()).toEqual([]);
  }, 60_000);

  it('are judged by their patterns in the page as well, and what comes in another language is told on the bench', async () => {
    const described = `${DEMO_ID.slice(0, -2)}fd`;
    await forget('Weigh indicator', 'ST,GS, 18405,kg$r$n');
    await on.page.open('/site');
    await change('A telegram by a pattern', () => {
      const after: DeviceTelegram = {
        ...{ id: described, projectId: DEMO_ID, deviceId: deviceId('Weigh indicator'), name: 'Net weight', note: '', direction: 'sent' },
        telegram: {
          end: ['0D'],
          encoding: 'ascii',
          fields: [{ name: 'net', at: { pattern: 'NT:([-+]?[0-9]+)' }, kind: 'integer' }],
        },
        ...{ when: { on: 'period', periodMs: 500 }, lostAfterMs: 2000, timeoutMs: 1000, tries: 2 },
        samples: 'NT:+500<CR>\nGS:+500<CR>',
      };
      return [{ entity: 'telegram', id: described, before: null, after }];
    });
    await on.page.chord(Key.ALT, 'w');
    await on.page.says('pe-findings-panel', 'of 2 samples of Net weight 1 does not match; “GS:+500<CR>”: net is not there');
    await on.page.open('/bench');
    await (await on.page.withText('[role=tab]', 'What is wrong')).click();
    await on.page.says(
      '[data-diagnosis="Weigh indicator"]',
      /all of one form, which is not that of Net weight: 4 parts, parted by “,”/,
      30_000,
    );
    expect(await on.browser.complaints()).toEqual([]);
  }, 90_000);
});
