import { DEMO_ID } from '@plain-envoy/core/model';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fernhollow } from '@plain-envoy/core/demo';
import type { BenchState, DatabaseHealth, StandInState } from '@plain-envoy/core/feed';
import { pointWidth } from '@plain-envoy/core/model';
import { Key } from 'selenium-webdriver';
import { openBrowser } from './browser.js';
import { clientOf } from './modbus.js';
import { Page } from './page.js';
import { endWhatIsLeft, envoy, eventually, isAlive, playEnvoy, type Start, startEnvoy, screenOf } from './start.js';

describe('./envoy', () => {
  afterEach(endWhatIsLeft, 60_000);

  it('reckons and compiles without database or browser', async () => {
    const range = await envoy(['reckon', 'range'], '{"first":0,"last":87}');
    expect([range.code, (JSON.parse(range.output) as { count: number }).count]).toEqual([0, 88]);
    const wrong = await envoy(['reckon', 'range'], '{"first":0}');
    expect([wrong.code, (JSON.parse(wrong.output) as { error: { message: string } }).error.message]).toEqual([
      2,
      jasmine.stringContaining('two of') as never,
    ]);
    const unknown = await envoy(['reckon', 'rang']);
    expect([unknown.code, unknown.output]).toEqual([2, jasmine.stringContaining('“range”') as never]);
    expect((await envoy(['reckon', '--list'])).output).toContain('"name":"checksum"');
    const missing = await envoy(['compile', '/nowhere/project.json']);
    expect([missing.code, missing.output]).toEqual([2, jasmine.stringContaining('cannot be read') as never]);
  });

  it('writes what is handed over of a project as files, without database or browser', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'envoy-handover-'));
    const file = join(folder, 'maltings.json');
    writeFileSync(file, JSON.stringify(fernhollow()));
    const made = await envoy(['handover', file, '--to', join(folder, 'out')]);
    expect([made.code, made.output]).toEqual([0, jasmine.stringMatching(/^\d+ files in .*contents\.sha256/) as never]);
    const sums = readFileSync(join(folder, 'out', 'contents.sha256'), 'utf8')
      .trim()
      .split('\n');
    expect(sums.length).toBeGreaterThan(100);
    for (const line of sums) {
      const bytes = readFileSync(join(folder, 'out', line.slice(66)));
      expect(createHash('sha256').update(bytes).digest('hex')).withContext(line).toBe(line.slice(0, 64));
    }
    expect(readFileSync(join(folder, 'out', 'programs', 'Kiln_controller.st'), 'utf8')).toContain('PROGRAM Kiln_controllerExchange');
    const bare = join(folder, 'bare.json');
    writeFileSync(
      bare,
      JSON.stringify(Object.fromEntries(Object.entries(fernhollow()).map(([key, rows]) => [key, Array.isArray(rows) ? [] : rows]))),
    );
    const archive = join(folder, 'bare.zip');
    expect((await envoy(['handover', bare, '--to', archive])).output).toMatch(/bare\.zip has \d+ files/);
    expect(readFileSync(archive).subarray(0, 2).toString()).toBe('PK');
    for (const [args, why] of [
      [[file], '--to DIR'],
      [[join(folder, 'none.json'), '--to', folder], 'cannot be read'],
      [[file, '--to', file], 'cannot be written'],
    ] as const) {
      const refused = await envoy(['handover', ...args]);
      expect([refused.code, refused.errors]).toEqual([2, jasmine.stringContaining(why) as never]);
    }
    rmSync(folder, { recursive: true, force: true });
  }, 90_000);

  it('plays the stand-ins of a project for others, without page or database, and says who is where', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'envoy-play-'));
    const file = join(folder, 'maltings.json');
    writeFileSync(file, JSON.stringify(fernhollow()));
    const played = await playEnvoy(file);
    const places = played.output().replaceAll(/ +/g, ' ');
    expect(places).toContain(`Burner control 127.40.8.21:${played.standInsPort}, any unit`);
    expect(places).toContain(`Fan drive north 127.40.8.30:${played.standInsPort}, unit 11`);
    const drive = await clientOf('127.40.8.30', played.standInsPort, 11);
    await drive.writeRegister(0, 1);
    await eventually('a drive that is on', async () => ((await drive.readInputRegisters(0, 1)).data[0]! & 2) !== 0);
    drive.close(() => undefined);
    expect(await played.stop()).toBe(0);
    const refusals = [
      [[file, '--serial', 'Kiln bus'], 'says no line and port'],
      [[file, '--serial', 'Attic bus=/dev/x'], 'is no serial line of this project'],
      [[file, '--serial', 'Kiln bus=/dev/x'], '--yes'],
      [[file, '--stand-ins-port', 'x'], 'is no TCP port'],
      [[join(folder, 'none.json')], 'cannot be read'],
      [[], 'Which project?'],
    ] as const;
    for (const [args, why] of refusals) {
      const refused = await envoy(['play', ...args]);
      expect([refused.code, refused.errors])
        .withContext(why)
        .toEqual([1, jasmine.stringContaining(why) as never]);
    }
    rmSync(folder, { recursive: true, force: true });
  }, 90_000);

  it('ends everything that it started on Ctrl+C, and says what a second start needs', async () => {
    const start = await startEnvoy();
    const { pid, server } = start.notes();
    const again = await envoy(['start', '--data', start.data, '--port', String(start.port)]);
    expect([again.code, again.errors]).toEqual([1, jasmine.stringContaining('already runs') as never]);
    const otherData = `${start.data}-b`;
    const elsewhere = await envoy(['start', '--data', otherData, '--port', String(start.port)]);
    expect([elsewhere.code, elsewhere.errors]).toEqual([1, jasmine.stringContaining('--port N') as never]);
    rmSync(otherData, { recursive: true, force: true });
    expect(await start.stop()).toBe(0);
    expect([isAlive(pid), isAlive(server)]).toEqual([false, false]);
    await expectAsync(fetch(start.address)).toBeRejected();
  }, 90_000);

  it('leaves no value in a stand-in that nobody wrote, when the server is killed amid a run or a proof', async () => {
    const start = await startEnvoy();
    const project = '019aa000-0000-7000-8000-000000000001';
    const post = { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' };
    await fetch(`${start.address}/api/projects/${project}/bench/run`, post);
    const north = await clientOf('127.40.8.30', start.standInsPort, 11);
    await eventually('a fan that was told to run', async () => (await north.readHoldingRegisters(0, 2)).data.join() === '3,412');
    const victim = start.notes().server;
    process.kill(victim, 'SIGKILL');
    await eventually('the server started again', () => start.notes().server !== victim && isAlive(start.notes().server));
    await eventually('the bench, taken up again', async () => {
      const bench = await benchOf(start);
      return bench.running && bench.byItself?.includes('it was taken up again');
    });
    await fetch(`${start.address}/api/projects/${DEMO_ID}/bench/stop`, post);

    const controller = await clientOf('127.40.8.10', start.standInsPort, 255);
    // Its map has these and no others.
    const words: number[] = [];
    for (const [first, count] of [
      [40, 100],
      [140, 49],
    ] as const)
      (await controller.readHoldingRegisters(first, count)).data.forEach((word, index) => (words[first + index] = word));
    // What routes write there, and what its own program does.
    const written = new Set([50, 64, 65, 74, 75, 84, 85, 90, 91, 92, 105, 132, ...destinationsIn('Kiln controller', 'holding')]);
    expect(words.flatMap((word, offset) => (word && !written.has(offset) ? [offset] : []))).toEqual([]);
    expect([0, 204117]).toContain(words[46]! + words[47]! * 65536);
    const coils = new Set([11, ...destinationsIn('Kiln controller', 'coil')]);
    const on = (await controller.readCoils(2, 41)).data.slice(0, 41);
    expect(on.flatMap((set, index) => (set && !coils.has(2 + index) ? [2 + index] : []))).toEqual([]);
    controller.close(() => undefined);

    expect((await north.readHoldingRegisters(0, 2)).data).toEqual([0b11, 412]);
    north.close(() => undefined);

    const standIns = async () => (await (await fetch(`${start.address}/api/projects/${DEMO_ID}/stand-ins`)).json()) as StandInState[];
    const changed = async () => (await standIns()).filter(({ held, cut }) => held.length > 0 || cut).length;
    const proof = fetch(`${start.address}/api/projects/${project}/prove/routes`, {
      ...post,
      body: JSON.stringify({ routeIds: null, withLoss: false }),
    });
    await eventually('values that a proof drives', async () => (await changed()) > 3);
    process.kill(start.notes().server, 'SIGKILL');
    await proof.then((response) => response.text()).catch(() => undefined);
    await eventually('what was said of the proof', async () => (await benchOf(start)).byItself?.includes('A proof went on'));
    expect(await changed()).toBe(0);
    await start.stop();
  }, 90_000);

  it('lets others in only with a passphrase, which is asked for on the page with one’s name', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'envoy-door-'));
    const open = await envoy(['start', '--host', '0.0.0.0', '--data', folder, '--port', '4989']);
    expect([open.code, open.errors]).toEqual([1, jasmine.stringContaining('--passphrase-file')]);
    const file = join(folder, 'passphrase');
    writeFileSync(file, 'seven sacks of barley\n');
    const start = await startEnvoy('--passphrase-file', file);
    const browser = await openBrowser();
    const page = new Page(browser.driver, start.address);
    try {
      expect((await fetch(`${start.address}/api/projects`)).status).toBe(401);
      await browser.driver.get(screenOf(start.address, '/bench'));
      await (await page.shows('input[formControlName=name]')).sendKeys('A. Person');
      await (await page.shows('input[formControlName=passphrase]')).sendKeys('a guess', Key.ENTER);
      await page.says('mat-error', 'This is not the passphrase.');
      await page.retype('input[formControlName=passphrase]', 'seven sacks of barley');
      await (await page.shows('input[formControlName=passphrase]')).sendKeys(Key.ENTER);
      await page.says('button[name=sign-out]', 'A. Person');
      await page.says('.screen-head', 'The bench is stopped.');
      await eventually('the feed', async () => (await page.texts('body')).every((text) => !text.includes('does not answer')));
      await page.click('button[name=sign-out]');
      await page.shows('pe-sign-in');
    } finally {
      await browser.close();
      await start.stop();
      rmSync(folder, { recursive: true, force: true });
    }
  }, 90_000);

  it('backs up and puts back while it runs; refuses what is no backup; and serves although PostgreSQL cannot be started', async () => {
    const start = await startEnvoy();
    const of = ['--data', start.data];
    const file = join(start.data, 'all.dump');
    expect((await envoy(['backup', file, ...of])).code).toBe(0);
    const again = await envoy(['backup', file, ...of]);
    expect([again.code, again.errors]).toEqual([1, jasmine.stringContaining('Choose another name')]);

    const demo = fernhollow();
    const [first] = demo.points;
    const change = { entity: 'point', id: first!.id, before: first, after: { ...first, name: 'After the backup' } };
    const body = JSON.stringify({ label: 'Edit', baseRevision: 0, changes: [change] });
    const headers = { 'content-type': 'application/json' };
    const path = `${start.address}/api/projects/${demo.project.id}`;
    expect((await fetch(`${path}/change-sets`, { method: 'POST', headers, body })).status).toBe(200);
    const revision = async () => ((await (await fetch(path)).json()) as { revision: number }).revision;
    const cut = join(start.data, 'cut.dump');
    writeFileSync(cut, readFileSync(file).subarray(0, 20_000));
    expect([(await envoy(['restore', cut, ...of])).code, await revision()]).toEqual([1, 1]);
    expect([(await envoy(['restore', file, ...of])).code, await revision()]).toEqual([0, 0]);

    const { cluster, server } = start.notes();
    const settings = join(cluster, 'postgresql.conf');
    const before = readFileSync(settings, 'utf8');
    writeFileSync(settings, `${before}\nnothing_of_the_kind = 1\n`);
    const [postgres] = readFileSync(join(cluster, 'postmaster.pid'), 'utf8').split('\n');
    process.kill(Number(postgres), 'SIGQUIT');
    await eventually('that the database is away', async () => !(await health(start)).database.ok);
    process.kill(server, 'SIGKILL');
    await eventually('the server, without a database', async () => start.notes().server !== server && !(await health(start)).database.ok);
    expect((await fetch(path)).status).toBe(503);
    writeFileSync(settings, before);
    await eventually('that all is well', async () => (await health(start)).database.ok && (await revision()) === 0);
    await start.stop();
  }, 90_000);
});

async function health({ address }: Start) {
  return (await (await fetch(`${address}/api/health`)).json()) as { database: DatabaseHealth };
}

async function benchOf({ address }: Start) {
  return (await (await fetch(`${address}/api/projects/${DEMO_ID}/bench`)).json()) as BenchState;
}

/** The registers or coils of a device of the demo that some route writes, or in which it tells whether its value is good. */
function destinationsIn(name: string, table: string): number[] {
  const demo = fernhollow();
  const points = new Map(demo.points.map((point) => [point.id, point]));
  const owner = demo.devices.find((device) => device.name === name)!.id;
  return demo.routes
    .flatMap(({ destinationId, loss }) => [destinationId, ...(loss.validId ? [loss.validId] : [])])
    .map((id) => points.get(id)!)
    .filter((point) => point.deviceId === owner && point.table === table)
    .flatMap((point) => Array.from({ length: pointWidth(point) }, (_, index) => point.offset + index));
}
