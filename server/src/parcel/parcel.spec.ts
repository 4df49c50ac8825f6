import type { MadeFileEvent } from '@plain-envoy/core/feed';
import { createHash } from 'node:crypto';
import { fernhollow } from '@plain-envoy/core/demo';
import { fileOf, type KeptAttachment, type KeptEvidence, type ProjectFile, readProjectFile } from '@plain-envoy/core/project-file';
import { unzipSync } from 'fflate';
import { makeDatabase, serve } from '../testing.spec-helper.js';
import { parcelArchive, parcelOf, SUMS } from './index.js';

const whole = fernhollow();
/** With a short book, which is soon made. */
const demo = { ...whole, project: { ...whole.project, book: { ...whole.project.book, chapters: ['revisions' as const] } } };
const [route] = demo.routes;
const byHand: KeptEvidence = {
  ...{ kind: 'hand', of: route!.id, revision: 2, at: '2026-01-02T03:04:05.000Z', by: null, body: { sentence: 'Held at 5.' } },
};
const attachment = (name: string): KeptAttachment => ({
  ...{ deviceId: demo.devices[0]!.id, name, at: '2026-01-02T03:04:05.000Z', by: null },
  base64: Buffer.from('manual').toString('base64'),
});
const text = (files: Awaited<ReturnType<typeof parcelOf>>, path: string) =>
  Buffer.from(files.find((file) => file.path === path)!.bytes).toString();

describe('A parcel', () => {
  it('has a file of each kind for whatever there is one of, and the sums of all', async () => {
    const files = await parcelOf(fileOf(demo, 3, []));
    const paths = files.map(({ path }) => path);
    expect(paths).toEqual(
      jasmine.arrayContaining([
        ...[
          'project.plain-envoy.json',
          'book.pdf',
          'book.html',
          'book.xlsx',
          'requests/Kiln_controller.xlsx',
          'mapping/Text_port.csv',
          'variables/Kiln_controller.xml',
        ],
        ...['programs/Steep_controller.st', 'registers/Plant_meter.td.json', 'what-is-lost-when.csv', SUMS],
      ]),
    );
    expect(new Set(paths.map((path) => path.toLowerCase())).size).toBe(paths.length);
    expect(paths.some((path) => path.startsWith('evidence/'))).toBeFalse();
    const sums = new Map(
      text(files, SUMS)
        .trim()
        .split('\n')
        .map((line) => [line.slice(66), line.slice(0, 64)]),
    );
    expect(sums.size).toBe(files.length - 1);
    for (const { path, bytes } of files)
      if (path !== SUMS) expect(sums.get(path)).withContext(path).toBe(createHash('sha256').update(bytes).digest('hex'));
    const back = readProjectFile(text(files, 'project.plain-envoy.json'));
    expect(back.ok && back.value.document).toEqual(demo);
  });

  it('is the same, byte for byte, whenever it is made', async () => {
    const first = await parcelArchive(fileOf(demo, 3, []));
    jasmine
      .clock()
      .install()
      .mockDate(new Date(2031, 4, 6));
    const again = parcelArchive(fileOf(demo, 3, []));
    jasmine.clock().uninstall();
    expect((await again).equals(first)).toBeTrue();
  });

  it('tells apart what is called alike, and stays in its folder whatever things are called', async () => {
    const names = ['../../etc/passwd', 'North', 'NORTH', '…'];
    const devices = demo.devices.map((device, index) => ({ ...device, name: names[index] ?? device.name }));
    const files = await parcelOf(fileOf({ ...demo, devices }, 3, [byHand], [attachment('../up.pdf'), attachment('noext')]));
    for (const { path } of files) expect(path).toMatch(/^([a-z]+\/)?[A-Za-z0-9_-]+(\.[A-Za-z0-9-]+)*$/);
    expect(new Set(files.map(({ path }) => path.toLowerCase())).size).toBe(files.length);
    expect(text(files, 'evidence/by-hand.csv')).toContain('Held at 5.');
    expect(files.filter(({ path }) => path.startsWith('attached/')).map(({ bytes }) => Buffer.from(bytes).toString())).toEqual([
      'manual',
      'manual',
    ]);
  });

  it('is not made any further once it is stopped', async () => {
    const stop = new AbortController();
    const heard: number[] = [];
    const tell = ({ done }: { done: number }) => {
      heard.push(done);
      if (done >= 5) stop.abort();
    };
    await expectAsync(parcelOf(fileOf(demo, 3, []), { signal: stop.signal, tell })).toBeRejectedWithError('It was stopped.');
    expect(Math.max(...heard)).toBe(5);
  });

  it('is the same from the page as from the file of the project', async () => {
    const database = await makeDatabase();
    const service = await serve(database.url);
    const path = `http://127.0.0.1:${service.port}/api/projects/${demo.project.id}`;
    const answer = await fetch(`${path}/parcel`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
    const told = (await answer.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as MadeFileEvent);
    const steps = told.flatMap((event) => (event.kind === 'progress' ? event.done / event.total : []));
    expect(steps).toEqual([...steps].sort((a, b) => a - b));
    expect(steps.length).toBeGreaterThan(20);
    expect(steps.at(-1)).toBe(1);
    const done = told.at(-1)!;
    if (done.kind !== 'done') return fail(done);
    expect(done.name).toBe('Fernhollow-Maltings.zip');
    const zipped = Buffer.from(done.base64, 'base64');
    const read = readProjectFile(await (await fetch(`${path}/file`)).text()) as { ok: true; value: ProjectFile };
    expect(zipped.equals(await parcelArchive(read.value))).toBeTrue();
    expect(Object.keys(unzipSync(zipped)).length).toBeGreaterThan(100);
    await service.stop();
    await database.drop();
  });
});
