import type { Finding } from '@plain-envoy/core/findings';
import { fernhollow } from '@plain-envoy/core/demo';
import { type Change, type Point, ProjectDocument } from '@plain-envoy/core/model';
import { answerPdu, ModbusTcpServer, RegisterBank } from '@plain-envoy/engine/server';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import { WebSocket } from 'ws';
import { type Batch, FeedReader, type ToPage } from '@plain-envoy/core/feed';
import type { Service } from './service.js';
import { Cuttable, eventually, makeDatabase, serve } from './testing.spec-helper.js';

const demo = fernhollow();
const id = demo.project.id;
const point = demo.points.find((row) => row.name === 'Damper set point')!;

interface Opened {
  revision: number;
  document: ProjectDocument;
  undo: string | null;
  redo: string | null;
}

describe('the service', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;

  const ask = async (method: 'GET' | 'POST' | 'PUT', path: string, body?: unknown, headers: Record<string, string> = {}) => {
    const response = await fetch(`http://127.0.0.1:${service.port}/api/${path}`, {
      method,
      headers: body === undefined ? headers : { 'content-type': 'application/json', ...headers },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    return { status: response.status, headers: response.headers, body: (await response.json()) as never };
  };
  const opened = async () => (await ask('GET', `projects/${id}`)).body as Opened;
  const edit = (changes: Change[], baseRevision = 0, label = 'Edit') =>
    ask('POST', `projects/${id}/change-sets`, { label, baseRevision, changes });
  const rename = (name: string, before: Point = point): Change => ({ entity: 'point', id: point.id, before, after: { ...before, name } });
  const message = (answer: { body: never }) => (answer.body as { error: { message: string } }).error.message;
  const path = (answer: { body: never }) => (answer.body as { error: { path: unknown[] } }).error.path;

  /** A page that looks at these: all that it was told, and the rows among it. */
  const join = async (looks: Parameters<FeedReader['watch']>[0] = {}) => {
    const [said, batches]: [ToPage[], Batch[]] = [[], []];
    const reader = new FeedReader();
    const socket = new WebSocket(`ws://127.0.0.1:${service.port}/api/projects/${id}/live`);
    socket.on('message', (data: Buffer) => {
      const message = JSON.parse(data.toString()) as ToPage;
      said.push(message);
      if (message.type === 'values') batches.push(reader.read(message));
    });
    await new Promise((done) => socket.once('open', done));
    socket.send(JSON.stringify(reader.watch(looks)));
    const polls = () => batches.flatMap(({ devices }) => devices).reduce((most, row) => Math.max(most, row.answered), 0);
    return { said, batches, polls, socket, close: () => socket.close() };
  };
  const allDevices = { devices: demo.devices.map((device) => device.id) };

  beforeEach(async () => {
    database = await makeDatabase();
    service = await serve(database.url);
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
  });

  describe('projects', () => {
    it('has the demo once, whole, and finds it again after a restart', async () => {
      const first = await opened();
      expect(ProjectDocument.safeParse(first.document).success).toBeTrue();
      expect(first.document).toEqual(demo);
      expect((await edit([rename('Kept')])).status).toBe(200);
      await service.stop();
      service = await serve(database.url);
      expect(((await ask('GET', 'projects')).body as unknown[]).length).toBe(1);
      const again = await opened();
      expect([again.revision, again.undo]).toEqual([1, 'Edit']);
      expect(again.document.points.find((row) => row.id === point.id)?.name).toBe('Kept');
    });

    it('exports a document that compiles to the plan that it serves', async () => {
      const { document } = (await ask('GET', `projects/${id}/file`)).body as ProjectFile;
      expect(ProjectDocument.safeParse(document).success).toBeTrue();
      const plan = (await ask('GET', `projects/${id}/plan`)).body as { plan: { routes: unknown[] }; findings: Finding[] };
      expect(plan.plan.routes.length).toBe(demo.routes.length);
      const lasting = plan.findings.filter(({ severity, at }) => severity !== 'advice' || at.entity === 'line');
      expect(lasting.map(({ check }) => check)).toEqual([
        'two-writers',
        'watchdog-long',
        'settings-differ',
        'character-length',
        'unit-twice',
        'order-differs',
      ]);
    });

    it('makes an empty project and says when there is none of that id', async () => {
      const made = await ask('POST', 'projects', { name: 'Another plant' });
      expect(made.status).toBe(201);
      expect((await ask('POST', 'projects', { name: '' })).status).toBe(422);
      const none = await ask('GET', `projects/${demo.devices[0]!.id}`);
      expect([none.status, message(none)]).toEqual([404, 'There is no such project.']);
    });
  });

  describe('change sets', () => {
    it('are undone and redone, also after a restart', async () => {
      await edit([rename('One')], 0, 'First');
      await edit([rename('Two', { ...point, name: 'One' })], 1, 'Second');
      const nameNow = async () => (await opened()).document.points.find((row) => row.id === point.id)?.name;
      await ask('POST', `projects/${id}/undo`, {});
      expect(await nameNow()).toBe('One');
      await service.stop();
      service = await serve(database.url);
      await ask('POST', `projects/${id}/undo`, {});
      expect(await nameNow()).toBe(point.name);
      expect(message(await ask('POST', `projects/${id}/undo`, {}))).toBe('There is nothing to undo.');
      await ask('POST', `projects/${id}/redo`, {});
      await ask('POST', `projects/${id}/redo`, {});
      expect(await nameNow()).toBe('Two');
      expect(message(await ask('POST', `projects/${id}/redo`, {}))).toBe('There is nothing to redo.');
      const { entries } = (await ask('GET', `projects/${id}/revisions`)).body as { entries: { kind: string }[] };
      expect(entries.map(({ kind }) => kind)).toEqual(['redo', 'redo', 'undo', 'undo', 'edit', 'edit']);
    });

    it('are refused whole on a conflict, with the row as it is now', async () => {
      await edit([rename('Theirs')], 0);
      const other = demo.points[0]!;
      const late = await edit([{ entity: 'point', id: other.id, before: other, after: { ...other, name: 'Mine too' } }, rename('Mine')], 0);
      expect(late.status).toBe(409);
      expect(message(late)).toContain('“Theirs” was changed by somebody else since revision 0');
      expect((late.body as { error: { current: Point; revision: number } }).error.current.name).toBe('Theirs');
      expect((await opened()).document.points.find((row) => row.id === other.id)?.name).toBe(other.name);
    });

    it('that rest on an older revision are taken where nobody else touched the same', async () => {
      await edit([rename('Theirs')], 0);
      const other = demo.points[0]!;
      expect((await edit([{ entity: 'point', id: other.id, before: other, after: { ...other, name: 'Mine' } }], 0)).status).toBe(200);
      const future = await edit([rename('x')], 99);
      expect([future.status, message(future)]).toEqual([409, jasmine.stringContaining('Load it again') as never]);
    });

    it('never leave anything pointing at nothing', async () => {
      const gone = await edit([{ entity: 'point', id: point.id, before: point, after: null }]);
      expect([gone.status, message(gone)]).toEqual([422, 'It cannot be deleted while “Damper set point” needs it.']);
      const missing = await edit([{ entity: 'point', id: point.id, before: point, after: { ...point, deviceId: id } }]);
      expect(path(missing)).toEqual(['changes', 0, 'after', 'deviceId']);
      expect((await opened()).revision).toBe(0);
    });

    it('that do not fit are refused with a sentence and the path to the field', async () => {
      const offset = await edit([{ ...rename('x'), after: { ...point, offset: 65_536 } }]);
      expect([offset.status, message(offset), path(offset)]).toEqual([
        422,
        'A table ends at offset 65535.',
        ['changes', 0, 'after', 'offset'] as never,
      ]);
      const port = demo.ports.find((row) => row.kind === 'serial' && row.unitId === 21)!;
      const unit = await edit([{ entity: 'port', id: port.id, before: port, after: { ...port, unitId: 256 } }]);
      expect(message(unit)).toContain('A unit ID is one byte');
      expect((await edit([])).status).toBe(422);
    });

    it('from many at once are all kept, one after the other', async () => {
      const chosen = demo.points.slice(0, 20);
      const answers = await Promise.all(
        chosen.map((row) => edit([{ entity: 'point', id: row.id, before: row, after: { ...row, note: 'seen' } }])),
      );
      expect(answers.every(({ status }) => status === 200)).toBeTrue();
      const now = await opened();
      expect(now.revision).toBe(20);
      expect(now.document.points.filter((row) => row.note === 'seen').length).toBe(20);
    });
  });

  describe('the door', () => {
    it('explains bodies that are no JSON, too large, or of another kind', async () => {
      const broken = await ask('POST', `projects/${id}/change-sets`, '{"label":');
      expect([broken.status, message(broken)]).toEqual([400, 'The body is not JSON.']);
      const text = await ask('POST', `projects/${id}/change-sets`, 'x', { 'content-type': 'text/plain' });
      expect(text.status).toBe(415);
      const nothing = await ask('GET', 'nothing');
      expect([nothing.status, message(nothing)]).toEqual([404, 'There is nothing at GET /api/nothing.']);
    });

    it('answers its own hosts and pages only, with strict headers', async () => {
      const foreign = await ask('GET', 'projects', undefined, { origin: 'http://elsewhere.example' });
      expect(foreign.status).toBe(403);
      const rebound = await service.app.inject({ url: '/api/projects', headers: { host: 'elsewhere.example' } });
      expect(rebound.statusCode).toBe(403);
      const own = await ask('GET', 'projects', undefined, { origin: `http://127.0.0.1:${service.port}` });
      expect(own.status).toBe(200);
    });

    it('reckons, and explains what does not fit', async () => {
      expect((await ask('POST', 'reckon/range', { first: 0, last: 87 })).body).toEqual(jasmine.objectContaining({ count: 88 }) as never);
      const wrong = await ask('POST', 'reckon/range', { first: 'x', last: 87 });
      expect([wrong.status, path(wrong)]).toEqual([422, ['first'] as never]);
      expect(message(await ask('POST', 'reckon/rang', {}))).toContain('“range”');
    });
  });

  describe('the live feed', () => {
    it('tells every page of an accepted edit, and turns another site’s page away', async () => {
      const { said, close } = await join();
      await edit([rename('Seen')]);
      const changed = await eventually(() => said.find((message) => message.type === 'changed'));
      expect(changed).toEqual(jasmine.objectContaining({ accepted: jasmine.objectContaining({ revision: 1, undo: 'Edit' }) }) as never);
      close();
      const foreign = new WebSocket(`ws://127.0.0.1:${service.port}/api/projects/${id}/live`, { origin: 'http://elsewhere.example' });
      expect(await new Promise((done) => foreign.once('error', (error) => done(error.message)))).toContain('403');
    });

    it('gives a page what it looks at and nothing else, and how many routes fare how', async () => {
      const bank = new RegisterBank({ holding: 512, coil: 512 });
      bank.set('holding', 50, 734);
      const controller = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.40.8.10', port: 0, connections: 8 });
      await controller.start();
      await service.stop();
      service = await serve(database.url, controller.port);
      const route = demo.routes.find((row) => row.name === 'Damper set point')!;
      const device = demo.devices.find((row) => row.name === 'Kiln controller')!;
      const { said, batches, close } = await join({ points: [point.id], routes: [route.id], devices: [device.id] });
      await ask('POST', `projects/${id}/bench/run`, {});
      const reading = await eventually(() => batches.flatMap(({ readings }) => readings)[0]);
      expect(reading).toEqual(jasmine.objectContaining({ pointId: point.id, words: [734], quality: 'good' }) as never);
      const state = await eventually(() => batches.flatMap(({ routes }) => routes).find(({ quality }) => quality === 'bad'));
      expect(state.reason).toMatch(/No connection to Kiln gateway|Exhaust damper does not answer/);
      await eventually(() => batches.some(({ devices }) => devices.some((row) => row.answered > 0)));
      await eventually(() => batches.length >= 5);
      expect([...new Set(batches.flatMap(({ readings }) => readings.map((row) => row.pointId)))]).toEqual([point.id]);
      expect([...new Set(batches.flatMap(({ routes }) => routes.map((row) => row.routeId)))]).toEqual([route.id]);
      expect([...new Set(batches.flatMap(({ devices }) => devices.map((row) => row.id)))]).toEqual([device.id]);
      expect(batches.flatMap(({ requests }) => requests)).toEqual([]);
      const tally = said.findLast((message) => message.type === 'values' && message.tally);
      expect(tally?.type === 'values' && tally.tally?.bad).toBeGreaterThan(0);
      await ask('POST', `projects/${id}/bench/stop`, {});
      await eventually(() =>
        said.some((message) => message.type === 'bench' && !message.bench.running && message.bench.projectId === null),
      );
      close();
      await controller.stop();
    });

    it('closes on a page that speaks nonsense, and lives on', async () => {
      for (const [text, code] of [
        ['nonsense', 1007],
        ['{"watch":["no id"]}', 1008],
      ] as const) {
        const { socket } = await join();
        socket.send(text);
        expect(await new Promise((done) => socket.once('close', done))).toBe(code);
      }
      expect((await ask('GET', 'health')).status).toBe(200);
    });
  });

  describe('while the database is away', () => {
    it('survives that PostgreSQL ends its connections amid edits, and keeps each that it has acknowledged', async () => {
      const kept = new Set<string>();
      const edits = demo.points.map(async (row) => {
        const answer = await edit([{ entity: 'point', id: row.id, before: row, after: { ...row, note: 'kept' } }]);
        if (answer.status === 200) kept.add(row.id);
      });
      await eventually(() => kept.size > 3);
      await database.endConnections();
      await Promise.all(edits);
      const now = await eventually(async () => {
        const answer = await ask('GET', `projects/${id}`);
        return answer.status === 200 && (answer.body as Opened);
      });
      expect([...kept].filter((rowId) => now.document.points.find((row) => row.id === rowId)?.note !== 'kept')).toEqual([]);
      const row = now.document.points.find((candidate) => candidate.id === point.id)!;
      await eventually(async () => (await edit([rename('After', row)], now.revision)).status === 200);
    });

    it('loses no connection for good, however often they break before anything began', async () => {
      for (let round = 0; round < 16; round++) {
        await database.endConnections();
        await Promise.all([rename(`A${round}`), rename(`B${round}`)].map((change) => edit([change])));
      }
      const from = performance.now();
      const { revision, document } = await eventually(async () => {
        const answer = await ask('GET', `projects/${id}`);
        return answer.status === 200 && (answer.body as Opened);
      });
      const row = document.points.find((candidate) => candidate.id === point.id)!;
      await eventually(async () => (await edit([rename('After', row)], revision)).status === 200);
      // One that waits for a free connection in vain takes 2 s.
      expect(performance.now() - from).toBeLessThan(2000);
    });

    it('goes on polling, says what is the matter, refuses edits with a reason, and recovers by itself', async () => {
      const bank = new RegisterBank({ holding: 512, coil: 512 });
      const controller = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.40.8.10', port: 0, connections: 8 });
      await controller.start();
      const way = new Cuttable(new URL(database.url));
      await service.stop();
      service = await serve(await way.open(), controller.port);
      const { said, polls, close } = await join(allDevices);
      await ask('POST', `projects/${id}/bench/run`, {});

      await way.cut();
      await eventually(() => said.find((message) => message.type === 'database' && !message.database.ok));
      const refused = await edit([rename('Lost')]);
      expect([refused.status, message(refused)]).toEqual([503, jasmine.stringContaining('nothing was saved') as never]);
      expect((await opened()).document.points.length).toBe(demo.points.length);
      expect(((await ask('GET', 'projects')).body as unknown[]).length).toBe(1);
      const before = polls();
      await eventually(() => polls() > before + 4);

      await way.open();
      await eventually(() => said.findLast((entry) => entry.type === 'database')?.database.ok);
      expect((await edit([rename('Kept')])).status).toBe(200);
      expect((await opened()).revision).toBe(1);
      close();
      await service.stop();
      await way.cut();
      service = await serve(database.url);
      await controller.stop();
    }, 30_000);

    it('goes on polling while it stands still, and says of an edit whose commit was not answered whether it was saved, once it goes on', async () => {
      const bank = new RegisterBank({ holding: 512, coil: 512 });
      const controller = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.40.8.10', port: 0, connections: 8 });
      await controller.start();
      const way = new Cuttable(new URL(database.url));
      await service.stop();
      service = await serve(await way.open(), controller.port, null, 600);
      const { said, polls, close } = await join(allDevices);
      await ask('POST', `projects/${id}/bench/run`, {});
      await eventually(() => polls() > 4);
      const row = async () => (await opened()).document.points.find((candidate) => candidate.id === point.id)!;
      const isBack = () => said.findLast((entry) => entry.type === 'database')?.database.ok === true;
      const was = (await row()).name;

      way.holdStill('all');
      const nothing = await edit([rename('Never')]);
      expect([nothing.status, message(nothing)]).toEqual([503, jasmine.stringContaining('nothing was saved') as never]);
      await eventually(() => !isBack());
      const before = polls();
      await eventually(() => polls() > before + 4);
      way.goOn();
      await eventually(isBack);
      expect((await row()).name).toBe(was);

      for (const [what, saved] of [
        ['answers', true],
        ['all', false],
      ] as const) {
        const label = `Perhaps ${what}`;
        const { revision } = await opened();
        const change = rename(label, await row());
        way.holdStill(what, 'commit\0');
        const answer = await edit([change], revision, label);
        expect([answer.status, message(answer)])
          .withContext(what)
          .toEqual([503, jasmine.stringContaining('it is not known whether it was') as never]);
        await eventually(() => !isBack());
        way.goOn();
        const settled = await eventually(() => said.findLast((entry) => entry.type === 'settled'));
        expect(settled.settled).withContext(what).toEqual({ projectId: id, label, saved });
        said.splice(0, said.length, ...said.filter((entry) => entry.type !== 'settled'));
        await eventually(isBack);
        expect((await row()).name)
          .withContext(what)
          .toBe('Perhaps answers');
      }
      expect(said.filter((entry) => entry.type === 'trouble')).toEqual([]);
      const logged = spyOn(console, 'error');
      service.trouble(new Error('Nobody caught it.'));
      const trouble = await eventually(() => said.find((entry) => entry.type === 'trouble'));
      expect([trouble.message, logged.calls.count()]).toEqual(['The server made a mistake of its own and went on: Nobody caught it.', 1]);
      close();
      await service.stop();
      await way.cut();
      service = await serve(database.url);
      await controller.stop();
    }, 40_000);
  });
});
