import { DEMO_ID } from '@plain-envoy/core/model';
import { blankFaults, type Fault } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { readPackets } from '@plain-envoy/core/trace';
import { By, Key } from 'selenium-webdriver';
import { clientOf } from './modbus.js';
import { DELIVERING, deviceId, onDemo } from './on-demo.js';
import { frameKey, readByAnalyser } from './captures.js';
import { eventually } from './start.js';

describe('The bench, in a browser', () => {
  const on = onDemo();

  it('runs the demo: within ten seconds every route but those of its faults shows good values on both sides, and they agree', async () => {
    await on.api('POST', `projects/${DEMO_ID}/bench/stop`, {});
    await on.page.open('/bench');
    await on.page.says('.screen-head', 'The bench is stopped');
    await (await on.page.withText('.screen-head button', 'Run')).click();
    const pressed = Date.now();
    await on.page.says('.screen-head', DELIVERING);
    const names = await on.page.routeNames();
    expect(names.length).toBe(125);
    const faulty = (name: string) => name.startsWith('Fan south') || /^Grain [56]/.test(name);
    // Two that undo each other, and one whose map is known to be otherwise than its papers.
    const doubtful = ['Damper set point', 'Damper for the steeps', 'Plant reactive energy'];
    await eventually('good values on both sides of every route, that agree', async () => {
      const all = Object.entries(await on.page.routes()).filter(([name]) => !faulty(name));
      const near = all
        .slice(0, 2)
        .every(([, row]) => Math.abs(parseFloat(row['source-value']!) - parseFloat(row['destination-value']!)) < 0.3);
      const isSaid = ([name, row]: (typeof all)[number]) => row['quality']?.includes(doubtful.includes(name) ? 'doubtful' : 'good');
      return near && all.every((each) => isSaid(each) && each[1]['source-value'] && each[1]['destination-value']);
    });
    expect(Date.now() - pressed).toBeLessThan(10_000);
    const serial = await on.page.route('Transmitter serial number');
    expect([serial['source-value'], serial['destination-value']]).toEqual(['204117', '204117']);
    // A text of dozens of registers does not push what is said of all values out of the window.
    expect(await on.page.isSeenWhole('pe-route-table [data-cell=age]')).toBeTrue();
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('shows what a client of other hands reads, directly and through the gateway', async () => {
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING);
    const client = await clientOf('127.40.8.10', on.start.standInsPort, 255);
    const shown = await eventually('the serial number in the controller', async () => {
      const row = await on.page.route('Transmitter serial number');
      return row['destination-value'] === row['source-value'] && row['destination-raw'];
    });
    const words = (await client.readHoldingRegisters(46, 2)).data;
    expect(words.map((word) => word.toString(16).toUpperCase().padStart(4, '0')).join(' ')).toBe(shown);
    await new Promise<void>((done) => client.close(() => done()));
  });

  it('shows a stand-in that is cut off as bad, with the reason, and recovers', async () => {
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING);
    const card = await on.page.shows('[data-stand-in="Air-on transmitter"]');
    await (await card.findElement(By.xpath('.//button[contains(., "Cut off")]'))).click();
    await on.page.says('[data-stand-in="Air-on transmitter"]', 'cut off');
    const bad = await eventually('bad quality', async () => {
      const row = await on.page.route('Air-on temperature');
      return row['quality']?.includes('bad') && row;
    });
    expect(bad['reason']).toContain('Kiln gateway asked Air-on transmitter (unit 21) and got no answer');
    await eventually('the others going on', async () => (await on.page.route('Fan north speed'))['quality']?.includes('good'));
    await on.page.says('[data-stand-in="Air-on transmitter"]', 'exception 11');
    await (await card.findElement(By.xpath('.//button[contains(., "Put back")]'))).click();
    await eventually('good quality again', async () => (await on.page.route('Air-on temperature'))['quality']?.includes('good'));
  });

  it('makes a fault on purpose, names its cause first, shows it in the trace with each byte explained, and recovers', async () => {
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING);
    const card = '[data-opened="Burner control"]';
    await on.page.click('[data-stand-in="Burner control"] .opens');
    await on.page.choose('fault', 'answers too late', card);
    await on.page.retype(`${card} input[name=ms]`, 'soon');
    await on.page.press(Key.ENTER);
    await on.page.shows(`${card} mat-error`);
    await on.page.retype(`${card} input[name=ms]`, '1300');
    await on.page.press(Key.ENTER);
    await on.page.says(card, 'answers after 1300 ms');
    await on.page.says('[data-stand-in="Burner control"]', 'answers after 1300 ms');
    await on.page.says('.screen-head', 'On purpose: 1 with faults');
    await on.page.click('button[name=wrong]');
    await on.page.says('[data-diagnosis="Burner control"]', 'answers, but later than it is waited for', 30_000);
    await (await on.page.withText('[data-diagnosis="Burner control"] a', 'Trace')).click();
    await on.page.says('.list .row', 'Burner control is asked for');
    await on.page.choose('end', 'no answer');
    await on.page.says('.list .row', 'nothing comes within');
    await on.page.click('button[name=hold]');
    await on.page.focus('.list');
    await on.page.press(Key.ARROW_DOWN);
    expect(await on.page.says('pe-exchange-view', 'Asked')).toContain('Carries');

    await on.page.open('/bench');
    await (await on.page.withText(`${card} button`, 'End it')).click();
    await on.page.says('.screen-head', DELIVERING, 30_000);
    await on.page.click('button[name=wrong]');
    await eventually(
      'no diagnosis of the burner',
      async () => !(await on.browser.driver.findElements(By.css('[data-diagnosis="Burner control"]'))).length,
      60_000,
    );
  });

  it('lets a value be held on a stand-in, which arrives at the other end, and released', async () => {
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING);
    const card = '[data-opened="Exhaust damper"]';
    await on.page.focus('[data-stand-in="Exhaust damper"] .opens');
    await on.page.press(Key.ENTER);
    await on.page.choose('point', 'Position', card);
    await on.page.retype(`${card} input[name=value]`, 'half');
    await on.page.press(Key.ENTER);
    await on.page.says(`${card} mat-error`, '“half” is no number.');
    await on.page.retype(`${card} input[name=value]`, '12.5');
    await on.page.press(Key.ENTER);
    await on.page.says(card, 'Position is held');
    await eventually('12.5 % in the controller', async () => (await on.page.route('Damper position'))['destination-value'] === '12.5 %');
    await (await on.page.withText(`${card} button`, 'Release')).click();
    await eventually('its own value again', async () => (await on.page.route('Damper position'))['destination-value'] !== '12.5 %');
  });

  it('watches points of any device, writes them, and forces a route with a sign that is seen everywhere', async () => {
    await on.page.open('/bench?view=watch');
    await on.page.says('pe-watch-view tbody', 'Air-on temperature');
    await (await on.page.shows('input[name=new-list]')).sendKeys('Steeps', Key.ENTER);
    await on.page.says('pe-watch-view tbody', 'Nothing is watched here yet');
    await on.page.choose('add-device', 'Steep controller');
    await on.page.choose('add', 'Kiln state 400121');
    await on.page.click('button[name=add-one]');
    await on.page.says('pe-watch-view tbody', 'Kiln state');
    const row = async () => (await on.page.texts('pe-watch-view tbody tr[data-row="0"]'))[0] ?? '';
    await on.page.click('button[name=write-tab]');
    await on.page.choose('force-route', 'Kiln state');
    await (await on.page.shows('input[name=force-value]')).sendKeys('cold', Key.ENTER);
    await on.page.says('pe-write-panel mat-error', '“cold” is no number.');
    await on.page.retype('input[name=force-value]', '7');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-write-panel', 'Kiln state is forced to 7');
    await on.page.says('.pill.by-hand', '1 forced');
    await eventually('what is forced is there', async () => /\b7\b/.test(await row()));
    await on.page.find('Site');
    await on.page.says('.pill.by-hand', '1 forced');
    await on.page.click('.pill.by-hand');
    await on.page.click('button[name=write-tab]');
    await (await on.page.withText('pe-write-panel button', 'Release')).click();
    await eventually('no sign', async () => (await on.browser.driver.findElements(By.css('.pill.by-hand'))).length === 0);
    await on.page.choose('write-device', 'Loft humidity');
    await on.page.choose('write-point', 'Humidity limit');
    await on.page.retype('textarea[name=write-value]', '64.5');
    await (await on.page.withText('pe-write-panel button', 'Write')).click();
    await on.page.says('pe-write-panel [role=status]', 'Humidity limit was set to 64.5 %', 20_000);
    await on.page.says('pe-write-panel .log', 'Loft humidity bridge, Humidity limit was set to 64.5 %');
  }, 90_000);

  it('shows a watch list as tiles, arranges them by keyboard alone, and has them so after a reload', async () => {
    const tile = '[data-tile="Damper position"]';
    const shown = async () => {
      await on.page.open('/bench?view=watch');
      await (await on.page.shows('button[name=tiles]')).sendKeys(Key.ENTER);
    };
    await shown();
    await on.page.says(tile, /%[\s\S]*good/);
    await (await on.page.shows('[data-name=arrange] button')).sendKeys(Key.ENTER);
    await on.page.focus(tile);
    for (let step = 0; step < 4; step++) await on.page.press(Key.ARROW_DOWN);
    await eventually('the tile in row 5', async () => {
      const place = await on.page.focused();
      if (place === 'Damper position, column 7, row 5') return true;
      throw new Error(`The keyboard is on “${place}”.`);
    });
    await eventually('the tile kept', async () => {
      const { document } = (await on.api('GET', `projects/${DEMO_ID}`)) as { document: ProjectDocument };
      return document.watchLists.some(({ items }) => items.some(({ tile }) => tile?.x === 6 && tile.y === 4));
    });
    await shown();
    await (await on.page.shows('[data-name=arrange] button')).sendKeys(Key.ENTER);
    const place = await (await on.page.shows(tile)).getAttribute('aria-label');
    expect(place).toBe('Damper position, column 7, row 5');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('asks devices about themselves, changes one only when that is confirmed, and writes to every unit of a line where its gateway lets it', async () => {
    await on.page.open('/bench');
    await on.page.says('.screen-head', DELIVERING);
    await on.page.focus('button[name=ask-tab]');
    await on.page.press(Key.ENTER);
    for (const text of ['Fan drive north', 'It and we agree']) {
      await (await on.page.withText('pe-device-counters-table button', 'Read what its devices count')).click();
      await on.page.says('pe-device-counters-table tbody', text, 20_000);
    }
    await on.page.says('pe-device-counters-table tbody', 'exception 11, gateway target failed to respond');
    await on.page.choose('inquiry-device', 'Exhaust');
    await on.page.choose('inquiry', '17');
    await (await on.page.withText('pe-inquiry-form button', 'Ask')).click();
    await on.page.says('pe-inquiry-form table', 'Exhaust damper');
    await on.page.choose('inquiry', '8/4');
    await (await on.page.withText('pe-inquiry-form button', 'Ask')).click();
    await on.page.says('pe-inquiry-form .remark', 'makes it fall silent');
    await on.page.click('button[name=confirm-inquiry]');
    await on.page.says('pe-inquiry-form table', 'It answers nothing to that, as it should.');
    await eventually('it is silent', async () => (await on.page.route('Damper position'))['quality']?.includes('bad'), 20_000);
    await on.page.choose('inquiry', '8/1 restart');
    await (await on.page.withText('pe-inquiry-form button', 'Ask')).click();
    await on.page.click('button[name=confirm-inquiry]');
    await eventually('it is back', async () => (await on.page.route('Damper position'))['quality']?.includes('good'), 20_000);

    await on.page.click('button[name=write-tab]');
    await on.page.choose('write-device', 'Exhaust');
    await on.page.retype('textarea[name=write-value]', '12.5');
    await on.page.click('mat-checkbox[name=write-broadcast] input');
    await (await on.page.withText('pe-write-panel button', 'Write')).click();
    await on.page.says('pe-write-panel [role=alert]', 'Kiln gateway is not said to pass unit 0 on');
    const project = `projects/${DEMO_ID}`;
    const { document, revision } = (await on.api('GET', project)) as { document: ProjectDocument; revision: number };
    const before = document.ports.find(({ kind, deviceId: id }) => kind === 'serial' && id === deviceId('Kiln gateway'))!;
    const changes = [{ entity: 'port', id: before.id, before, after: { ...before, forwardedUnits: [{ first: 0, last: 247 }] } }];
    await on.api('POST', `${project}/change-sets`, { label: 'Pass broadcasts on', baseRevision: revision, changes });
    // The stand-in of the gateway follows the edit a moment later.
    await eventually('it was sent to every unit', async () => {
      await (await on.page.withText('pe-write-panel button', 'Write')).click();
      const said = await on.page.says('pe-write-panel', /nobody confirms it|It was not written/);
      return said.includes('was sent to every unit of the line of Exhaust damper, for Set point; nobody confirms it');
    });
    await on.page.open('/trace');
    await on.page.choose('end', 'sent');
    await on.page.says('.list', 'Every unit behind Kiln gateway is told');
    expect((await on.browser.complaints()).filter((text) => !/\b(422|502)\b/.test(text))).toEqual([]);
  }, 90_000);

  it('draws chosen values over time, by keyboard', async () => {
    await on.page.open('/bench?view=watch');
    await on.page.focus('pe-watch-view tr[data-row="0"]');
    await on.page.press(' ', Key.ARROW_DOWN);
    await on.page.press(' ');
    await on.page.click('button[name=plot-tab]');
    await on.page.says('pe-plot-view tbody', 'Air-on transmitter, Air-on humidity %');
    await eventually('four values with a mean', async () => {
      const texts = await on.page.texts('pe-plot-view tbody tr');
      return texts.length === 4 && texts.every((text) => /\d[\d.]* \d[\d.]* \d[\d.]* \d/.test(text));
    });
    await on.page.shows('pe-plot-view canvas');
  });

  it('shows what would be written before the real plant is armed, and does not arm it by a slip', async () => {
    await on.page.open('/bench');
    await on.page.click('button[name=arm]');
    await on.page.says('pe-arm-panel tbody', 'Command word');
    await (await on.page.shows('input[name=arm-word]')).sendKeys('yes', Key.ENTER);
    await on.page.says('pe-arm-panel mat-error', 'Type the name of the project');
    expect(await (await on.page.shows('input[name=arm-word]')).getAttribute('value')).toBe('yes');
    await on.page.says('.pill.bench', 'Bench runs on stand-ins');
  });

  it('writes a run with each fault as the same exchanges for a packet analyser, a spreadsheet, and its own import', async () => {
    const faults: Record<string, Fault[]> = {
      'Grain cable 1': [blankFaults.silent],
      'Plant meter': [blankFaults.frozen, { kind: 'slow', ms: 80, spreadMs: 10 }, blankFaults['one at a time']],
      'Fan drive north': [{ kind: 'lost', percent: 40 }],
      'Burner control': [{ kind: 'damaged', percent: 40 }],
      'Loft humidity bridge': [blankFaults['wrong unit']],
      'Yard display': [blankFaults['cut short']],
      'Exhaust damper': [{ kind: 'exception', code: 6, table: 'holding', first: 0, last: 0 }],
      'Grain cable 2': [blankFaults.twice],
      'Steep controller': [{ kind: 'late', ms: 1200 }],
      'Floor I/O block': [blankFaults['half-open']],
    };
    const set = (name: string, all: Fault[]) => on.api('PUT', `projects/${DEMO_ID}/stand-ins/${deviceId(name)}/faults`, { faults: all });
    const trace = `projects/${DEMO_ID}/trace`;
    for (const [name, all] of Object.entries(faults)) await set(name, all);
    try {
      await new Promise((done) => setTimeout(done, 4000));
    } finally {
      for (const name of Object.keys(faults)) await set(name, []);
    }
    const { kept } = (await on.api('POST', trace, { filter: {}, upTo: null, from: 0, count: 0 })) as { kept: { last: number } };
    const file = async (format: string) => {
      const body = JSON.stringify({ filter: {}, upTo: kept.last, format });
      const headers = { 'content-type': 'application/json' };
      return (await fetch(`${on.start.address}/api/${trace}/file`, { method: 'POST', headers, body })).arrayBuffer();
    };
    const [capture, sheet] = [new Uint8Array(await file('pcapng')), new TextDecoder().decode(await file('csv'))];
    const bytesOf = (hex: string) => Uint8Array.from(hex.split(' ').filter(Boolean), (pair) => parseInt(pair, 16));
    const rows = sheet
      .split('\r\n')
      .slice(1)
      .filter(Boolean)
      .map((row) => row.split(','));
    expect(rows.length).toBeGreaterThan(100);
    const ends = new Set(rows.map((row) => row[5]));
    for (const end of ['answered', 'refused', 'silent', 'damaged', 'late']) expect(ends).toContain(end);

    const whole = (frame: Uint8Array) => frame.length > 7 && frame.length === 6 + ((frame[4]! << 8) | frame[5]!);
    const inSheet = rows.flatMap((row) => [row[7]!, row[8]!].map(bytesOf)).filter(whole);
    const told = inSheet.map(frameKey).sort();
    const own = readPackets(capture);
    if (!own.ok) throw new Error(own.problem.message);
    const imported = own.value.flatMap(({ sent, got }) => [sent, got].filter((frame) => frame !== null)).filter(whole);
    expect(imported.map(frameKey).sort()).toEqual(told);
    // How long somebody waits is in no packet: an answer that came late for us stands with its question there.
    const answered = (list: readonly string[]) => list.filter((end) => ['answered', 'refused', 'late'].includes(end)).length;
    expect(answered(own.value.map(({ end }) => end))).toBe(answered(rows.map((row) => row[5]!)));
    const analysed = readByAnalyser(capture);
    if (!analysed) return;
    expect(analysed.malformed).toBe(0);
    expect(analysed.frames.sort()).toEqual(told);
  }, 60_000);
});
