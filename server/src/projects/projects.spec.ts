import { fernhollow } from '@plain-envoy/core/demo';
import type { Accepted } from '@plain-envoy/core/feed';
import { type Change, deletion, type Point, referrersOf } from '@plain-envoy/core/model';
import { mapAsPapers } from '@plain-envoy/core/papers';
import { SmallProject } from '@plain-envoy/core/testing';
import { v7 as newId } from 'uuid';
import { Database } from '../database/index.js';
import { ProblemError } from '../problem/index.js';
import { makeDatabase } from '../testing.spec-helper.js';
import { Revisions } from './revisions.js';
import { ProjectStore } from './store.js';

describe('the projects', () => {
  let made: Awaited<ReturnType<typeof makeDatabase>>;
  let database: Database;
  let store: ProjectStore;
  let accepted: Accepted[];
  let small: SmallProject;
  let point: Point;

  const id = () => small.document.project.id;
  const renamed = (before: Point, name: string): Change => ({ entity: 'point', id: before.id, before, after: { ...before, name } });
  const edit = (changes: Change[], baseRevision = 0, label = 'Edit') => store.apply(id(), { label, baseRevision, changes });
  const names = async () => (await store.get(id())).document.points.map(({ name }) => name);
  async function problemOf(work: Promise<unknown>) {
    try {
      await work;
      return null;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return error.problem;
    }
  }

  beforeEach(async () => {
    made = await makeDatabase();
    database = new Database(made.url, () => undefined);
    await database.open();
    accepted = [];
    store = new ProjectStore(database, (change) => accepted.push(change));
    small = new SmallProject();
    const device = small.device('Pump');
    small.port(device, small.net());
    point = small.point(device, 'Speed');
    small.point(device, 'Torque', { offset: 1 });
    await store.seed(small.document);
  });
  afterEach(async () => {
    await database.close();
    await made.drop();
  });

  it('give a project whole, and say so where there is none', async () => {
    expect(await store.get(id())).toEqual({ revision: 0, document: small.document, undo: null, redo: null });
    expect((await problemOf(store.get(point.id)))?.message).toBe('There is no such project.');
  });

  it('tell of each accepted edit, and step back and forth through them', async () => {
    await edit([renamed(point, 'One')], 0, 'First');
    await edit([renamed({ ...point, name: 'One' }, 'Two')], 1, 'Second');
    expect(await names()).toEqual(['Two', 'Torque']);
    expect((await store.step(id(), 'undo')).undo).toBe('First');
    expect((await store.step(id(), 'undo')).redo).toBe('First');
    expect(await names()).toEqual(['Speed', 'Torque']);
    expect((await problemOf(store.step(id(), 'undo')))?.message).toBe('There is nothing to undo.');
    await store.step(id(), 'redo');
    expect(await names()).toEqual(['One', 'Torque']);
    await edit([renamed({ ...point, name: 'One' }, 'Other')], 5);
    expect((await problemOf(store.step(id(), 'redo')))?.message).toBe('There is nothing to redo.');
    expect(accepted.map(({ kind, revision }) => `${kind} ${revision}`)).toEqual([
      'edit 1',
      'edit 2',
      'undo 3',
      'undo 4',
      'redo 5',
      'edit 6',
    ]);
    const { entries, first, current } = await new Revisions(database, store).list(id());
    expect(entries.slice(0, 2).map(({ label, size }) => [label, size])).toEqual([
      ['Edit', 1],
      ['First', 1],
    ]);
    expect([first, current]).toEqual([0, 6]);
  });

  it('are known as they were at each revision, and some by a name', async () => {
    const revisions = new Revisions(database, store);
    const states = [(await store.get(id())).document];
    await edit([renamed(point, 'One')], 0);
    states.push((await store.get(id())).document);
    await edit(deletion(states[1]!, 'point', point.id), 1);
    states.push((await store.get(id())).document);
    await store.step(id(), 'undo');
    states.push((await store.get(id())).document);
    for (const [revision, document] of states.entries())
      expect(await revisions.at(id(), revision))
        .withContext(String(revision))
        .toEqual({ revision, document });
    expect((await problemOf(revisions.at(id(), 9)))?.message).toBe('The project is at revision 3; there is no revision 9 yet.');
    await revisions.name(id(), 1, { name: 'Works test', note: 'As it was accepted.' });
    await revisions.name(id(), 3, { name: 'Delivered', note: '' });
    await revisions.name(id(), 1, { name: 'Accepted', note: 'At the works.' });
    const names = async () => (await revisions.list(id())).names.map(({ revision, name, note }) => [revision, name, note]);
    expect(await names()).toEqual([
      [3, 'Delivered', ''],
      [1, 'Accepted', 'At the works.'],
    ]);
    await revisions.name(id(), 3, { name: '', note: '' });
    expect((await names()).length).toBe(1);
    expect((await problemOf(revisions.name(id(), 4, { name: 'x', note: '' })))?.message).toContain('no revision 4 that could have a name');
  });

  it('lose a device with all that rests on it in one edit, whatever that is, and have it again at one undo', async () => {
    const [device] = small.document.devices;
    const paper = mapAsPapers(small.document, { deviceId: device!.id, projectId: id(), source: 'The manual', newId });
    const sends = { ...fernhollow().telegrams[0]!, id: newId(), projectId: id(), deviceId: device!.id };
    const frame = { ...fernhollow().frames[0]!, id: newId(), projectId: id(), deviceId: device!.id };
    await edit([
      paper,
      { entity: 'telegram', id: sends.id, before: null, after: sends },
      { entity: 'frame', id: frame.id, before: null, after: frame },
    ]);
    const { document } = await store.get(id());
    const gone = deletion(document, 'device', device!.id);
    expect(new Set(gone.map(({ entity }) => entity))).toEqual(new Set(['device', ...referrersOf('device').map(([from]) => from)]));
    await edit(gone, 1);
    expect((await store.get(id())).document).toEqual({
      ...document,
      devices: [],
      ports: [],
      points: [],
      papers: [],
      telegrams: [],
      frames: [],
    });
    await store.step(id(), 'undo');
    expect((await store.get(id())).document).toEqual(document);
  });

  it('refuse an edit whole where a row is not as it was, with the row as it is', async () => {
    await edit([renamed(point, 'Theirs')]);
    const torque = small.document.points[1]!;
    const problem = await problemOf(edit([renamed(torque, 'Mine'), renamed(point, 'Mine')]));
    expect(problem?.message).toContain('“Theirs” was changed by somebody else since revision 0');
    expect(problem?.path).toEqual(['changes', 1, 'before']);
    expect(await names()).toEqual(['Theirs', 'Torque']);
    const twice = await problemOf(edit([{ entity: 'point', id: torque.id, before: null, after: torque }], 1));
    expect(twice?.message).toBe('“Torque” is already there. Nothing was changed.');
    await edit([{ entity: 'point', id: torque.id, before: torque, after: null }], 1);
    expect((await problemOf(edit([renamed(torque, 'Mine')], 1)))?.message).toContain('“Torque” was deleted since revision 1');
    expect((await problemOf(edit([renamed(point, 'x')], 9)))?.message).toContain('rests on revision 9, but the project is at 2');
  });

  it('keep what points to something there, and refuse what would point to nothing', async () => {
    const device = small.document.devices[0]!;
    expect(await problemOf(edit([{ entity: 'device', id: device.id, before: device, after: null }]))).not.toBeNull();
    expect(await problemOf(edit([{ ...renamed(point, 'x'), after: { ...point, deviceId: id() } }]))).not.toBeNull();
    expect(await names()).toEqual(['Speed', 'Torque']);
    const { points, ports } = small.document;
    const all: Change[] = [
      ...points.map((row): Change => ({ entity: 'point', id: row.id, before: row, after: null })),
      ...ports.map((row): Change => ({ entity: 'port', id: row.id, before: row, after: null })),
      { entity: 'device', id: device.id, before: device, after: null },
    ];
    await edit(all);
    expect((await store.get(id())).document.devices).toEqual([]);
    await store.step(id(), 'undo');
    expect((await store.get(id())).document).toEqual(small.document);
  });

  it('make a seeded project anew only while nobody has edited it', async () => {
    const newer = { ...small.document, points: [{ ...point, name: 'Newer' }] };
    await store.seed(newer);
    const fresh = () => new ProjectStore(database, () => undefined).get(id());
    expect((await fresh()).document).toEqual(newer);
    store = new ProjectStore(database, () => undefined);
    await edit([renamed(newer.points[0]!, 'Ours')]);
    await store.seed(small.document);
    expect((await fresh()).document.points.map(({ name }) => name)).toEqual(['Ours']);
  });
});
