import { fernhollow } from '@plain-envoy/core/demo';
import type { BenchState, DatabaseHealth } from '@plain-envoy/core/feed';
import { Database } from '../database/index.js';
import type { Service } from '../service.js';
import { Cuttable, eventually, makeDatabase, serve } from '../testing.spec-helper.js';
import { type BenchNote, takeUp, Unfinished } from './index.js';

const demo = fernhollow();
const id = demo.project.id;
const ran: BenchNote = { on: 'stand-ins', sinceMs: 1, tookUp: false, endedMs: null, byHand: [] };

describe('what the last start left unfinished', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service | null;

  const health = async () => (await (await fetch(`http://127.0.0.1:${service!.port}/api/health`)).json()) as { database: DatabaseHealth };
  const benchState = async () => (await (await fetch(`http://127.0.0.1:${service!.port}/api/projects/${id}/bench`)).json()) as BenchState;
  const post = (path: string, body: object = {}) =>
    fetch(`http://127.0.0.1:${service!.port}/api/${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  async function left(note: BenchNote): Promise<void> {
    const direct = new Database(database.url, () => undefined);
    await direct.open();
    await new Unfinished(direct).write(id, 'bench', note);
    await direct.close();
  }
  async function list() {
    const direct = new Database(database.url, () => undefined);
    await direct.open();
    const rows = await new Unfinished(direct).list();
    await direct.close();
    return rows;
  }
  async function again(): Promise<void> {
    await service?.stop();
    service = await serve(database.url);
  }

  beforeEach(async () => {
    database = await makeDatabase();
    service = await serve(database.url);
  });
  afterEach(async () => {
    await service?.stop();
    await database.drop();
  });

  it('goes on where it ran on stand-ins, and says so', async () => {
    await left(ran);
    await service!.stop();
    service = await serve(database.url);
    const bench = await benchState();
    expect([bench.running, bench.projectId, bench.on]).toEqual([true, id, 'stand-ins']);
    expect(bench.byItself).toContain('The server broke down while the bench ran Fernhollow Maltings on stand-ins. At ');
    expect((await list()).map(({ body }) => (body as unknown as BenchNote).tookUp)).toEqual([true]);
  });

  it('is forgotten with a project that was thrown away meanwhile, and the start goes on', async () => {
    expect((await fetch(`http://127.0.0.1:${service!.port}/api/projects/${id}`, { method: 'DELETE' })).status).toBe(200);
    await left(ran);
    await again();
    expect((await benchState()).running).toBeFalse();
    expect(await list()).toEqual([]);
  });

  it('never goes on on the real plant, and says why it stopped', async () => {
    await left({ ...ran, on: 'real', byHand: ['Damper is forced to 12 %'] });
    await again();
    const bench = await benchState();
    expect([bench.running, bench.byItself]).toEqual([
      false,
      'The server broke down while the bench ran Fernhollow Maltings on the real plant. Nothing is asked or written there until a person arms it again. What was done by hand has ended, and its last values stay where they were written: Damper is forced to 12 %.',
    ]);
    expect(await list())
      .withContext('it is said once')
      .toEqual([]);
  });

  it('stays stopped where the project has it so', async () => {
    const change = { entity: 'project', id, before: demo.project, after: { ...demo.project, resumes: false } };
    expect((await post(`projects/${id}/change-sets`, { label: 'Stays', baseRevision: 0, changes: [change] })).status).toBe(200);
    await left(ran);
    await again();
    const bench = await benchState();
    expect([bench.running, bench.byItself]).toEqual([false, jasmine.stringContaining('It was not taken up, as the project has it.')]);
  });

  it('says that it ran when everything was ended in good order', async () => {
    expect((await post(`projects/${id}/bench/run`)).status).toBe(200);
    await eventually(async () => (await list()).length === 1);
    await again();
    const bench = await benchState();
    expect([bench.running, bench.byItself]).toEqual([
      false,
      jasmine.stringMatching(/ran Fernhollow Maltings on stand-ins when Plain Envoy was ended at/),
    ]);
  });

  it('is struck out when the bench is stopped by hand', async () => {
    await post(`projects/${id}/bench/run`);
    await eventually(async () => (await list()).length === 1);
    await post(`projects/${id}/bench/stop`);
    await eventually(async () => (await list()).length === 0);
    await again();
    expect((await benchState()).byItself).toBeNull();
  });

  it('is not taken up for ever, where it breaks down each time', () => {
    const entry = { projectId: id, kind: 'bench' as const, atMs: 100_000, body: { ...ran, tookUp: true } as never };
    expect(takeUp(entry, demo, 130_000)).toEqual({ goesOn: false, sentence: jasmine.stringContaining('It is not taken up once more.') });
    expect(takeUp(entry, demo, 160_001).goesOn).toBeTrue();
  });

  it('is written down once the database is back, the newest of it only', async () => {
    const way = new Cuttable(new URL(database.url));
    const direct = new Database(await way.open(), () => undefined);
    await direct.open();
    const unfinished = new Unfinished(direct);
    await way.cut();
    await expectAsync(unfinished.write(id, 'proof', {})).toBeRejectedWithError(/could not be written down/);
    await unfinished.note(id, 'bench', ran);
    await unfinished.note(id, 'proof', null);
    await way.open();
    await eventually(async () => {
      await unfinished.catchUp();
      return (await list()).length > 0;
    });
    expect((await list()).map(({ kind }) => kind)).toEqual(['bench']);
    await direct.close();
    await way.cut();
  });

  it('a start while the database is away serves and says so, and has everything once it is back', async () => {
    await service!.stop();
    const way = new Cuttable(new URL(database.url));
    const url = await way.open();
    await way.cut();
    service = await serve(url);
    expect((await health()).database).toEqual(
      jasmine.objectContaining({ ok: false, message: jasmine.stringContaining('does not answer') }) as never,
    );
    expect((await fetch(`http://127.0.0.1:${service.port}/api/projects`)).status).toBe(503);
    expect((await post(`projects/${id}/bench/run`)).status).toBe(503);
    await way.open();
    await eventually(async () => (await health()).database.ok);
    expect((await post(`projects/${id}/bench/run`)).status).toBe(200);
    await service.stop();
    service = null;
    await way.cut();
  });
});
