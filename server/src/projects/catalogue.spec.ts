import type { ListedProject, TakeInEvent } from '@plain-envoy/core/feed';
import { FILE_VERSION } from '@plain-envoy/core/common';
import { DEMO_ID, type Project, type ProjectDocument } from '@plain-envoy/core/model';
import { fileOf, type ProjectFile } from '@plain-envoy/core/project-file';
import { SmallProject } from '@plain-envoy/core/testing';
import { Attachments } from '../attachments/index.js';
import { Database } from '../database/index.js';
import type { Service } from '../service.js';
import { eventually, makeDatabase, serve } from '../testing.spec-helper.js';
import { Catalogue, Judgements, KEPT_MS, ProjectStore, Revisions } from './index.js';

describe('all projects', () => {
  let made: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;

  const ask = async <T>(method: string, path: string, body?: object | string) => {
    const type = typeof body === 'string' ? 'application/octet-stream' : 'application/json';
    const response = await fetch(`http://127.0.0.1:${service.port}/api/projects${path}`, {
      method,
      ...(body === undefined ? {} : { headers: { 'content-type': type }, body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const text = await response.text();
    const lines = text.split('\n').filter((line) => line.trim());
    const isStream = response.headers.get('content-type')?.includes('ndjson') === true;
    return {
      status: response.status,
      body: (isStream ? lines.map((line) => JSON.parse(line) as unknown) : JSON.parse(text)) as T & {
        error: { message: string; path: unknown[] };
      },
    };
  };
  const list = async () => (await ask<ListedProject[]>('GET', '')).body;
  const named = async (name: string) => (await list()).find((row) => row.name === name);
  const begin = async (wish: object) => (await ask<Project>('POST', '', { client: '', ...wish })).body;
  const opened = async (id: string) => (await ask<{ document: ProjectDocument; revision: number }>('GET', `/${id}`)).body;

  beforeEach(async () => {
    made = await makeDatabase();
    service = await serve(made.url);
  });
  afterEach(async () => {
    await service.stop();
    await made.drop();
  });

  it('are listed with how they stand, those that were changed last first', async () => {
    expect((await list()).map(({ id }) => id)).toEqual([DEMO_ID]);
    const mill = await begin({ name: 'Mill', client: 'A client', like: 'rtu', devices: 4 });
    const [first] = await list();
    expect(first).toEqual(
      jasmine.objectContaining({
        id: mill.id,
        name: 'Mill',
        client: 'A client',
        lines: 2,
        devices: 5,
        routes: 8,
        proved: 0,
        isArchived: false,
      }),
    );
    const counted = await eventually(async () => (await list()).find(({ id }) => id === DEMO_ID)!.findings);
    expect(counted.warning).toBeGreaterThan(0);
    await ask('PUT', `/${DEMO_ID}/about`, { name: 'Maltings', client: 'Another', note: '' });
    expect((await list()).map(({ name, client }) => [name, client])).toEqual([
      ['Maltings', 'Another'],
      ['Mill', 'A client'],
    ]);
    expect((await opened(DEMO_ID)).revision).toBe(1);
  });

  it('are begun in every way that is offered, and refused at its place where that is none', async () => {
    const offered = (await (await fetch(`http://127.0.0.1:${service.port}/api/beginnings`)).json()) as { id: string }[];
    for (const { id } of offered) expect((await begin({ name: `By ${id}`, like: id })).name).toBe(`By ${id}`);
    expect((await list()).length).toBe(1 + offered.length);
    const refused = async (wish: object) => (await ask('POST', '', { name: 'Mill', client: '', ...wish })).body.error?.path;
    expect(await refused({ name: '' })).toEqual(['name']);
    expect(await refused({ like: 'nothing' })).toEqual(['like']);
    expect(await refused({ like: 'rtu', devices: 99 })).toEqual(['devices']);
    expect(await refused({ client: 'x'.repeat(121) })).toEqual(['client']);
  });

  it('are copied, and put away and back', async () => {
    const { id } = await begin({ name: 'Mill', like: 'tcp' });
    const copy = await ask<Project>('POST', `/${id}/duplicate`);
    expect([copy.status, copy.body.name]).toEqual([201, 'Mill (2)']);
    expect((await opened(copy.body.id)).document.devices.map(({ name }) => name)).toEqual(
      (await opened(id)).document.devices.map(({ name }) => name),
    );
    await ask('PUT', `/${id}/archived`, { archived: true });
    expect((await named('Mill'))?.isArchived).toBeTrue();
    await ask('PUT', `/${id}/archived`, { archived: false });
    expect((await named('Mill'))?.isArchived).toBeFalse();
    expect((await ask('PUT', '/019aa000-0000-7000-8000-00000000ffff/archived', { archived: true })).status).toBe(404);
  });

  it('are thrown away, closed meanwhile, and taken back as they were', async () => {
    const { id } = await begin({ name: 'Mill', like: 'tcp' });
    const before = await opened(id);
    expect((await ask('DELETE', `/${id}`)).status).toBe(200);
    expect((await named('Mill'))?.deletedAtMs).toBeGreaterThan(0);
    const gone = await ask('GET', `/${id}`);
    expect([gone.status, gone.body.error.message]).toEqual([
      404,
      '“Mill” was deleted. It can be taken back from the list of projects for a day.',
    ]);
    expect((await ask('PUT', `/${id}/about`, { name: 'Other', client: '', note: '' })).status).toBe(404);
    expect((await ask('POST', `/${id}/restore`)).status).toBe(200);
    expect(await opened(id)).toEqual(before);
  });

  it('go out as a file with what was proved, and come in again as another one where the first is still there', async () => {
    const file = (await ask<ProjectFile>('GET', `/${DEMO_ID}/file`)).body;
    const routeId = file.document.routes[0]!.id;
    const proof = {
      kind: 'proof' as const,
      of: routeId,
      revision: 3,
      at: '2026-11-26T10:00:00.000Z',
      by: null,
      body: { state: 'proved', routeId },
    };
    const taken = await ask<TakeInEvent[]>('POST', '/file', JSON.stringify({ ...file, revision: 7, evidence: [proof] }));
    const done = taken.body.at(-1) as Extract<TakeInEvent, { kind: 'done' }>;
    expect(taken.body.map(({ kind }) => kind)).toContain('read');
    expect([done.kind, done.name]).toEqual(['done', `${file.document.project.name} (2)`]);
    const { document, revision } = await opened(done.id);
    expect([revision, document.points.length]).toEqual([7, file.document.points.length]);
    expect((await named(done.name))?.proved).toBe(1);
    const again = (await ask<ProjectFile>('GET', `/${done.id}/file`)).body;
    const own = document.routes.find(({ name }) => name === file.document.routes[0]!.name)!.id;
    expect(again.evidence).toEqual([{ ...proof, of: own, body: { ...proof.body, routeId: own } }]);
    expect((await ask<ProjectFile>('GET', `/${done.id}/file?evidence=without`)).body.evidence).toEqual([]);
  });

  it('are not taken in where the file is none, or names what is not in it; nothing is left of it', async () => {
    const file = (await ask<ProjectFile>('GET', `/${DEMO_ID}/file`)).body;
    const refused = async (body: string) => (await ask('POST', '/file', body)).body.error.message;
    expect(await refused('no project')).toContain('the file is no JSON');
    expect(await refused(JSON.stringify({ ...file, version: FILE_VERSION + 1 }))).toContain('written by a newer Plain Envoy');
    const dangling = { ...file, document: { ...file.document, rounds: [] } };
    expect(await refused(JSON.stringify(dangling))).toContain('names a round that is not in the file');
    expect((await ask('POST', '/file', { is: 'no file' })).status).toBe(415);
    expect((await list()).length).toBe(1);
  });

  describe('without the service', () => {
    let database: Database;
    let catalogue: Catalogue;
    let judgements: Judgements;
    const small = new SmallProject();
    small.point(small.device('Drive'), 'Speed');
    const { id } = small.document.project;

    beforeEach(async () => {
      database = new Database(made.url, () => undefined);
      await database.open();
      const store = new ProjectStore(database, () => undefined);
      judgements = new Judgements((projectId) => store.read(projectId));
      catalogue = new Catalogue(database, store, judgements, new Attachments(database));
    });
    afterEach(async () => {
      judgements.end();
      await database.close();
    });

    it('are gone for good a day after they were thrown away, and then come in under their own ids', async () => {
      await catalogue.create(small.document, { revision: 4 });
      await new Revisions(database, new ProjectStore(database, () => undefined)).name(id, 4, { name: 'Delivered', note: '' });
      const file = await catalogue.file(id, 'all');
      await catalogue.remove(id, true);
      await catalogue.purge();
      expect((await catalogue.list()).some((row) => row.id === id)).toBeTrue();
      await catalogue.purge(Date.now() + KEPT_MS + 1000);
      expect((await catalogue.list()).some((row) => row.id === id)).toBeFalse();
      const project = await catalogue.takeIn(structuredClone(file), new AbortController().signal, () => undefined);
      expect(project).toEqual(small.document.project);
      expect(await catalogue.file(id, 'all')).toEqual(file);
    });

    it('are not there at all where taking them in is stopped on the way', async () => {
      const stop = new AbortController();
      const taking = catalogue.takeIn(fileOf(small.document, 0, []), stop.signal, () => stop.abort());
      await expectAsync(taking).toBeRejectedWithError(/It was stopped\. Nothing was taken in\./);
      expect((await catalogue.list()).length).toBe(1);
    });

    it('want the demo where it is, or where nothing is, and nowhere else', async () => {
      expect(await catalogue.wantsDemo()).toBeTrue();
      await catalogue.remove(DEMO_ID, true);
      expect(await catalogue.wantsDemo()).toBeFalse();
      await catalogue.create(small.document);
      await catalogue.purge(Date.now() + KEPT_MS + 1000);
      expect(await catalogue.wantsDemo()).toBeFalse();
      await catalogue.remove(id, true);
      await catalogue.purge(Date.now() + KEPT_MS + 1000);
      expect(await catalogue.wantsDemo()).toBeTrue();
    });
  });
});
