import { compile } from '@plain-envoy/core/compile';
import type { ListedProject } from '@plain-envoy/core/feed';
import { DEMO_ID, type ProjectDocument } from '@plain-envoy/core/model';
import { readPackets } from '@plain-envoy/core/trace';
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { heardBeside } from './heard-beside.js';
import { printedManual } from './manual.js';
import { deviceId, onDemo } from './on-demo.js';
import { eventually } from './start.js';
import { talking } from './talking.js';

/** A person who counts what the hands do: a key or chord, a text that is typed, a thing that is found and taken. */
class Counting {
  actions = 0;

  constructor(private readonly on: ReturnType<typeof onDemo>) {}

  async press(...keys: string[]): Promise<void> {
    for (const key of keys) {
      this.actions += 1;
      await this.on.page.press(key);
    }
  }

  async chord(modifier: string, key: string): Promise<void> {
    this.actions += 1;
    await this.on.page.chord(modifier, key);
  }

  async type(text: string): Promise<void> {
    this.actions += 1;
    await this.on.page.press(text);
  }

  /** An address of the project, typed into the browser. */
  async go(path: string, project: string): Promise<void> {
    this.actions += 2;
    await this.on.page.open(path, project);
  }

  /** Brings the keyboard to a thing, as Tab does. */
  async onto(css: string): Promise<void> {
    this.actions += 1;
    await this.on.page.focus(css);
  }

  /** Chooses a file. */
  async give(css: string, path: string): Promise<void> {
    this.actions += 1;
    await (await this.on.page.shows(css)).sendKeys(path);
  }

  /** Ctrl+K, what is wanted, Enter. */
  async find(name: string): Promise<void> {
    this.actions += 3;
    await this.on.page.find(name);
  }
}

function recordsIn(file: string) {
  const read = readPackets(readFileSync(file));
  return read.ok ? read.value : [];
}

describe('Projects, in a browser', () => {
  const on = onDemo();
  const list = () => on.api('GET', 'projects') as Promise<ListedProject[]>;
  const begin = async (wish: object) => ((await on.api('POST', 'projects', { client: '', ...wish })) as { id: string }).id;
  const documentOf = async (id: string) => ((await on.api('GET', `projects/${id}`)) as { document: ProjectDocument }).document;
  const hands = () => new Counting(on);
  /** A plant of four devices on two lines, begun in the dialog for that; gives the id of its project. */
  const beginByKeys = async (own: Counting) => {
    await on.page.enter();
    await on.page.says('tbody', 'Fernhollow Maltings');
    await own.chord(Key.ALT, 'n');
    await eventually('the keyboard in the name', async () => (await on.page.focused()) === 'name');
    await own.type('Own plant');
    await own.press(Key.TAB, Key.TAB);
    await own.press(Key.ARROW_DOWN, Key.ARROW_DOWN);
    await own.press(Key.TAB);
    await own.chord(Key.CONTROL, 'a');
    await own.type('2');
    await own.press(Key.ENTER);
    await on.page.says('main', '2 lines, 4 devices');
    return /project\/([0-9a-f-]+)/.exec(await on.browser.driver.getCurrentUrl())![1]!;
  };
  const discard = async (name: string) => {
    for (const { id } of (await list()).filter((row) => row.name === name && row.deletedAtMs === null))
      await on.api('DELETE', `projects/${id}`);
  };
  afterEach(async () => {
    // No page of a project is open while that is deleted: it would go on asking.
    await on.page.enter();
    for (const name of ['Own plant', 'Heard', 'Beside', 'Mill', 'Mill street', 'Mill (2)']) await discard(name);
  });

  it('an own plant of four devices on two lines is begun, changed, run and proved by keyboard alone', async () => {
    const own = hands();
    const id = await beginByKeys(own);

    await own.find('Device 2');
    await on.page.shows('pe-device-panel');
    await on.page.focus('pe-device-panel input[name=name]');
    await own.chord(Key.CONTROL, 'a');
    await own.type('Pump');
    await own.press(Key.ENTER);
    await eventually('the new name', async () => (await documentOf(id)).devices.some(({ name }) => name === 'Pump'));

    // The map is the manual’s: it was compared with it, for all of them.
    await own.find('Papers of the device');
    await eventually('the panel', async () => on.page.focused().then((at) => at === 'papers-source'));
    await own.chord(Key.CONTROL, 'a');
    await own.type('Their manuals');
    await own.press(Key.TAB, Key.ENTER);
    await eventually('its papers', async () => (await documentOf(id)).papers.length === 1);
    await own.press(Key.TAB, Key.ENTER);
    await eventually('the papers of the others', async () => (await documentOf(id)).papers.length === 3);
    await own.chord(Key.ALT, Key.ENTER);
    await on.page.says('.bench', 'Bench runs on stand-ins');
    await own.find('Prove all');
    await on.page.says('pe-proofs-view .tally', 'The last proof took', 60_000);
    expect((await list()).find((row) => row.id === id)).toEqual(jasmine.objectContaining({ proved: 4, routes: 4, runsOn: 'stand-ins' }));
    expect(own.actions).toBeLessThan(40);
    expect(await on.browser.complaints()).toEqual([]);
  }, 120_000);

  it('an own plant is begun, one of its devices taken from the PDF of its manual, run and proved by keyboard alone', async () => {
    const own = hands();
    const folder = mkdtempSync(join(tmpdir(), 'manual-'));
    const manual = join(folder, 'drive.pdf');
    writeFileSync(manual, await printedManual());
    const id = await beginByKeys(own);
    const device = (await documentOf(id)).devices.find(({ name }) => name === 'Device 1')!;

    // What it began with makes way for what the manual says.
    await own.go(`/registers?device=${device.id}`, id);
    await on.page.cell('Value');
    await own.chord(Key.CONTROL, 'a');
    await own.press(Key.DELETE);
    await on.page.says('.nothing-yet', 'has no points yet');
    await own.find('Import a map');
    await own.give('pe-import-view input[type=file]', manual);
    await on.page.says('pe-import-view .told', '6 new', 30_000);
    await on.page.says('pe-import-view .parts', '3.1 Input registers · 4 rows, page 1');
    await on.page.shows('pe-pdf-page .place');
    expect(await (await on.page.shows('mat-checkbox[name=is-manual] input')).isSelected()).toBeTrue();
    await own.onto('button[name=accept]');
    await own.press(Key.ENTER);
    await eventually('its papers', async () => (await documentOf(id)).papers.length === 1);
    await eventually('the manual itself, kept with it', async () => {
      const [kept] = (await on.api('GET', `projects/${id}/attachments`)) as { name: string; deviceId: string }[];
      return kept?.name === 'drive.pdf' && kept.deviceId === device.id;
    });
    const taken = (await documentOf(id)).points.filter(({ deviceId: of }) => of === device.id);
    expect(taken.map(({ name, table, offset, type, unit, access }) => [name, table, offset, type, unit, access].join(' '))).toEqual([
      'Speed input 0 float32 rpm read',
      'Torque input 2 int16 Nm read',
      'Running hours input 3 uint32 h read',
      'State input 5 uint16  read',
      'Speed wanted holding 0 float32 rpm readWrite',
      'Ramp holding 2 uint16 s readWrite',
    ]);
    expect(taken.find(({ name }) => name === 'State')!.codes.map(({ name }) => name)).toEqual(['off', 'running', 'fault']);
    expect(taken.find(({ name }) => name === 'Torque')!.scale).toEqual({ factor: 0.1, offset: 0 });

    await own.go('/routes', id);
    await on.page.pressUntil(Key.TAB, 'Source device');
    await own.press('Device 1', Key.ENTER, Key.TAB);
    await eventually('the keyboard in the filter', async () => (await on.page.focused()).startsWith('Filter'));
    await on.page.pressUntil(Key.TAB, 'Speed');
    await own.chord(Key.CONTROL, 'a');
    await own.press(Key.ENTER);
    await eventually('the keyboard in the first register', async () => (await on.page.focused()) === 'first');
    await own.chord(Key.CONTROL, 'a');
    await own.type('200');
    await on.page.says('pe-order-panel button[type=submit]', 'Make 6 routes and 6 points');
    await own.press(Key.ENTER);
    await on.page.says('pe-routes .screen-head', '6 routes here');

    await own.find('Papers of the device');
    await eventually('the panel', async () => on.page.focused().then((at) => at === 'papers-source'));
    await own.press(Key.TAB, Key.ENTER);
    await eventually('the papers of the controller', async () => (await documentOf(id)).papers.length === 2);
    await own.press(Key.TAB, Key.ENTER);
    await eventually('the papers of the others', async () => (await documentOf(id)).papers.length === 3);
    await own.chord(Key.ALT, Key.ENTER);
    await on.page.says('.bench', 'Bench runs on stand-ins');
    await own.find('Prove all');
    await on.page.says('pe-proofs-view .tally', 'The last proof took', 60_000);
    expect((await list()).find((row) => row.id === id)).toEqual(jasmine.objectContaining({ proved: 8, routes: 8, runsOn: 'stand-ins' }));
    expect(own.actions).toBeLessThan(60);
    expect(await on.browser.complaints()).toEqual([]);
    rmSync(folder, { recursive: true });
  }, 120_000);

  it('one is made from a recording of the demo: what was asked with its period, and what its values are', async () => {
    // No page follows the plant meanwhile: what is looked at is the plant.
    await on.page.enter();
    await on.runBench();
    const { id: capture } = (await on.api('POST', `projects/${DEMO_ID}/trace/captures`, { filter: {} })) as { id: string };
    const recording = fetch(`${on.start.address}/api/projects/${DEMO_ID}/trace/captures/${capture}.pcapng`).then((answer) =>
      answer.arrayBuffer(),
    );
    await new Promise((done) => setTimeout(done, 45_000));
    await on.api('DELETE', `projects/${DEMO_ID}/trace/captures/${capture}`);
    const folder = mkdtempSync(join(tmpdir(), 'recording-'));
    const file = join(folder, 'malting.pcapng');
    writeFileSync(file, Buffer.from(await recording));
    await on.page.says('tbody', 'Fernhollow Maltings');
    await (await on.page.shows('input[name=recording-file]')).sendKeys(file);
    await on.page.says('pe-from-recording', 'questions to', 30_000);
    await on.page.retype('pe-from-recording input[name=name]', 'Heard');
    await on.page.press(Key.ENTER);
    await eventually('the project', async () => (await on.browser.driver.getCurrentUrl()).includes('/project/'), 30_000);
    const id = /project\/([0-9a-f-]+)/.exec(await on.browser.driver.getCurrentUrl())![1]!;
    const { periods, points } = heardBeside(await documentOf(DEMO_ID), await documentOf(id), recordsIn(file));
    expect(periods.of).toBeGreaterThan(60);
    expect(periods.right / periods.of)
      .withContext(`${periods.right} of ${periods.of} periods`)
      .toBeGreaterThanOrEqual(0.9);
    // Of the points of the demo 41 to 73 move within 45 s.
    expect(points.of).toBeGreaterThan(35);
    expect(points.right / points.of).toBeGreaterThanOrEqual(0.8);
    const { findings } = compile(await documentOf(id));
    expect(findings.filter(({ severity }) => severity === 'stop')).toEqual([]);
    expect(await on.browser.complaints()).toEqual([]);
    rmSync(folder, { recursive: true });
  }, 180_000);

  it('one is made of what is heard on a serial line, while it is heard', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'line-'));
    const [near, far] = [join(folder, 'near'), join(folder, 'far')];
    const socat = spawn('socat', [`pty,raw,echo=0,link=${near}`, `pty,raw,echo=0,link=${far}`], { stdio: 'ignore' });
    await eventually('the cable', () => Promise.resolve(existsSync(near) && existsSync(far)));
    const talk = talking(far, 200);
    try {
      await on.page.enter();
      await on.page.click('button[name=bring-in]');
      await on.page.click('button[name=listen-in]');
      await on.page.retype('pe-listen-in input[name=path]', '/dev/none');
      await on.page.press(Key.ENTER);
      await on.page.says('pe-listen-in .problem', '/dev/none cannot be opened');
      await on.page.retype('pe-listen-in input[name=path]', realpathSync(near));
      await on.page.press(Key.ENTER);
      await on.page.says('pe-listen-in pe-heard', '1 question to 1 device', 20_000);
      await on.page.says('pe-listen-in pe-heard td', /^(19\d|20\d) ms$/, 20_000);
      await on.page.retype('pe-listen-in input[name=name]', 'Heard on a line');
      await on.page.click('pe-listen-in button[name=make]');
      await eventually('the project', async () => (await on.browser.driver.getCurrentUrl()).includes('/project/'), 30_000);
      const id = /project\/([0-9a-f-]+)/.exec(await on.browser.driver.getCurrentUrl())![1]!;
      const { project, ports, points } = await documentOf(id);
      expect(project.name).toBe('Heard on a line');
      expect(ports.some((port) => port.kind === 'serial' && port.unitId === 5)).toBeTrue();
      expect(points.some(({ table, offset }) => table === 'holding' && offset === 16)).toBeTrue();
      expect(await on.browser.complaints()).toEqual([]);
    } finally {
      talk.end();
      socat.kill();
      rmSync(folder, { recursive: true });
    }
  }, 120_000);

  it('two run at once on stand-ins of their own, and neither hears of the other', async () => {
    const id = await begin({ name: 'Beside', like: 'demo' });
    await on.api('POST', `projects/${id}/bench/run`, {});
    const damper = (await documentOf(id)).devices.find(({ name }) => name === 'Exhaust damper')!.id;
    const held = { table: 'holding', offset: 0, words: [321] };
    await on.api('PUT', `projects/${id}/stand-ins/${damper}/registers`, held);
    await on.api('PUT', `projects/${id}/stand-ins/${damper}/cut`, { cut: true });
    const states = async (of: string) =>
      (await on.api('GET', `projects/${of}/stand-ins`)) as { name: string; cut: boolean; held: unknown[] }[];
    const damperOf = async (of: string) => (await states(of)).find(({ name }) => name === 'Exhaust damper')!;
    expect(await damperOf(id)).toEqual(jasmine.objectContaining({ cut: true }));
    expect((await damperOf(id)).held.length).toBe(1);
    expect(await damperOf(DEMO_ID)).toEqual(jasmine.objectContaining({ cut: false, held: [] }));

    // Each is open in a window of its own.
    await on.page.open('/bench', id);
    await on.page.says('main', 'Running on stand-ins');
    const first = await on.browser.driver.getWindowHandle();
    await on.browser.driver.switchTo().newWindow('window');
    await on.page.open('/bench');
    await on.page.says('main', /11\d of 125 routes deliver, 3 are in doubt\. *$/m, 30_000);
    await on.api('POST', `projects/${id}/bench/stop`, {});
    await on.page.says('.bench', 'Bench runs on stand-ins');
    await on.browser.driver.close();
    await on.browser.driver.switchTo().window(first);
    await on.page.says('.bench', 'Bench is stopped');
    expect(await on.browser.complaints()).toEqual([]);
  }, 120_000);

  it('one that is open in two windows stays live in both, by its name as well', async () => {
    const id = await begin({ name: 'Mill', like: 'tcp' });
    await on.page.open('/site', id);
    const first = await on.browser.driver.getWindowHandle();
    await on.browser.driver.switchTo().newWindow('window');
    await on.page.open('/lines', id);
    await on.page.click('button[name=about]');
    await on.page.retype('pe-about-project input[name=name]', '');
    await on.page.press(Key.ENTER);
    await on.page.says('pe-about-project mat-error', 'A name is needed.');
    await on.page.retype('pe-about-project input[name=name]', 'Mill street');
    await on.page.press(Key.ENTER);
    await on.page.says('button[name=about]', 'Mill street · revision 1');
    await on.browser.driver.close();
    await on.browser.driver.switchTo().window(first);
    await on.page.says('button[name=about]', 'Mill street · revision 1');
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('is saved as a file and taken in again; a file that is none is refused with a sentence', async () => {
    const id = await begin({ name: 'Mill', like: 'tcp' });
    await on.page.enter();
    const file = await (await fetch(`${on.start.address}/api/projects/${id}/file`)).text();
    const folder = mkdtempSync(join(tmpdir(), 'envoy-projects-'));
    const [whole, none] = [join(folder, 'mill.json'), join(folder, 'notes.json')];
    writeFileSync(whole, file);
    writeFileSync(none, readFileSync(whole, 'utf8').slice(0, 100));
    const input = await on.page.shows('input[name=file]');
    await input.sendKeys(none);
    await on.page.says('[role=alert]', 'notes.json: This is no project of Plain Envoy: the file is no JSON.');
    await input.sendKeys(whole);
    await on.page.says('tbody', 'Mill (2)');
    const [before, after] = [await documentOf(id), await documentOf((await list()).find(({ name }) => name === 'Mill (2)')!.id)];
    const bare = (document: ProjectDocument) => document.points.map(({ name, table, offset, type }) => [name, table, offset, type]);
    expect(bare(after)).toEqual(bare(before));
    rmSync(folder, { recursive: true });
    // The browser says on its own that a request was refused.
    expect((await on.browser.complaints()).filter((line) => !line.includes('422'))).toEqual([]);
  });

  it('a device is given to the library and taken three times into another project, which hears of a newer version', async () => {
    const id = await begin({ name: 'Mill', like: 'tcp' });
    await on.page.open(`/site?device=${deviceId('Plant meter')}`);
    await on.page.click('pe-from-library button[name=give]');
    await on.page.says('pe-from-library', 'Plant meter, version 1');
    await on.page.open('/site?add=device', id);
    await on.page.choose('like', 'Plant meter, from the library');
    await eventually(
      'its name',
      async () => (await (await on.page.shows('pe-add-device input[name=name]')).getAttribute('value')) === 'Plant meter',
    );
    await on.page.retype('pe-add-device input[name=count]', '3');
    await on.page.click('pe-add-device button[type=submit]');
    await on.page.shows('pe-device-panel');
    const taken = async () => (await documentOf(id)).devices.filter(({ fromLibrary }) => fromLibrary !== null);
    expect((await taken()).map(({ name, fromLibrary }) => [name, fromLibrary!.version])).toEqual([
      ['Plant meter', 1],
      ['Plant meter 2', 1],
      ['Plant meter 3', 1],
    ]);
    const [first] = await taken();
    const entry = first!.fromLibrary!.id;
    const template = (await on.api('GET', `library/${entry}/versions/1`)) as { device: { tries: number } };
    await on.api('POST', 'library', { template: { ...template, device: { ...template.device, tries: 7 } }, as: entry });
    await on.page.open(`/site?device=${first!.id}`, id);
    await on.page.says('pe-from-library', 'The library has version 2.');
    await (await on.page.withText('pe-from-library tbody button', 'Take')).click();
    await eventually('the newer setting', async () => (await taken())[0]!.tries === 7);
    await on.page.says('pe-from-library', 'It is like its newest version.');
    await on.api('DELETE', `library/${entry}`);
    expect(await on.browser.complaints()).toEqual([]);
  });

  it('is deleted by key and taken back from the deleted, and its page says meanwhile where it is', async () => {
    const id = await begin({ name: 'Mill', like: 'empty' });
    await on.page.enter();
    await on.page.says('tbody', 'Mill');
    await on.page.focus('tbody tr[data-id="' + id + '"]');
    await on.page.press(Key.DELETE);
    await on.page.says('mat-snack-bar-container', 'Mill was deleted.');
    await on.browser.driver.get(`${on.start.address}/project/${id}/site`);
    await on.page.says('main', '“Mill” was deleted. It can be taken back from the list of projects for a day.');
    await on.page.enter();
    await (await on.page.withText('mat-button-toggle button', 'Deleted')).click();
    await on.page.click(`tr[data-id="${id}"] button[name=restore]`);
    await eventually('it is there again', async () => (await list()).some((row) => row.id === id && row.deletedAtMs === null));
    expect((await on.browser.complaints()).filter((line) => !line.includes('404'))).toEqual([]);
  });

  it('has nothing that axe-core calls serious on the first page and in what it asks, in light or dark', async () => {
    for (const theme of ['light', 'dark']) {
      await on.page.enter();
      await on.browser.driver.executeScript(`localStorage.setItem('plain-envoy-theme', '${theme}')`);
      await on.page.enter();
      await on.page.says('tbody', '2 stops');
      expect(await on.serious())
        .withContext(theme)
        .toEqual([]);
      await on.page.chord(Key.ALT, 'n');
      await on.page.shows('pe-begin-project mat-radio-button');
      expect(await on.serious())
        .withContext(`${theme}, begin`)
        .toEqual([]);
      await on.page.press(Key.ESCAPE);
    }
  });
});
