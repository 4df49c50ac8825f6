import { fernhollow } from '@plain-envoy/core/demo';
import type { SettingEvent } from '@plain-envoy/core/feed';
import { compile } from '@plain-envoy/core/compile';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { plantActs, plantMark } from '@plain-envoy/core/plant';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import type { Snapshot } from '@plain-envoy/core/settings';
import { answerPdu, ModbusTcpServer, RegisterBank } from '@plain-envoy/engine/server';
import type { Service } from '../service.js';
import { eventually, makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const projectId = demo.project.id;
const drive = demo.devices.find(({ name }) => name === 'Fan drive south')!;
const own = (name: string) => demo.points.find((point) => point.deviceId === drive.id && point.name === name)!;
const [timeout, ramp, top] = ['Comms timeout', 'Ramp to top speed', 'Top speed'].map(own) as [
  ReturnType<typeof own>,
  ReturnType<typeof own>,
  ReturnType<typeof own>,
];
const UNIT = 12;

describe('settings', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;
  let bank: RegisterBank;
  let gateway: ModbusTcpServer;

  const call = async (method: string, path: string, body?: object) => {
    const response = await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}${path && `/${path}`}`, {
      method,
      ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}),
    });
    return { status: response.status, text: await response.text() };
  };
  const ask = async <T>(method: string, path: string, body?: object) => JSON.parse((await call(method, path, body)).text) as T;
  const events = async (path: string, body: object) =>
    (await call('POST', path, { on: 'stand-ins', deviceId: drive.id, ...body })).text
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as SettingEvent)
      .filter(({ kind }) => kind !== 'progress' && kind !== 'done');
  const refusal = async (path: string, body: object) => {
    const { status, text } = await call('POST', path, { on: 'stand-ins', deviceId: drive.id, ...body });
    return [status, (JSON.parse(text) as { error: { message: string } }).error.message];
  };
  const read = () => events('settings/read', { pointIds: [timeout.id, ramp.id, top.id] });
  const sentences = async () => (await ask<{ sentence: string }[]>('GET', 'by-hand')).map(({ sentence }) => sentence);

  beforeEach(async () => {
    bank = new RegisterBank({ holding: 16, input: 16 });
    bank.set('holding', 2, 30);
    bank.set('holding', 4, 75, 600);
    gateway = new ModbusTcpServer((unit, pdu) => (unit === UNIT ? answerPdu(bank, pdu) : new Uint8Array([pdu[0]! | 0x80, 11])), {
      ...{ host: '127.40.8.30', port: 0, connections: 4 },
    });
    await gateway.start();
    database = await makeDatabase();
    service = await serve(database.url, gateway.port);
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
    await gateway.stop();
  });

  it('are read, written, read back and noted, over a connection of their own while nothing runs', async () => {
    expect(await read()).toEqual([
      { kind: 'held', pointId: timeout.id, words: [30] },
      { kind: 'held', pointId: ramp.id, words: [75] },
      { kind: 'held', pointId: top.id, words: [600] },
    ]);
    const told = await events('settings/write', { values: [{ pointId: ramp.id, words: [90] }] });
    expect(told).toEqual([{ kind: 'written', pointId: ramp.id, state: 'holds', words: [90], sentence: 'Ramp to top speed holds 9.0 s.' }]);
    expect(bank.get('holding', 4)).toBe(90);
    expect(await sentences()).toEqual(['Fan drive south: 1 of 1 settings were written and read back (on the stand-ins).']);
  });

  it('are read again and again while somebody listens', async () => {
    const stop = new AbortController();
    const response = await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/settings/read`, {
      ...{ method: 'POST', signal: stop.signal, headers: { 'content-type': 'application/json' } },
      body: JSON.stringify({ on: 'stand-ins', deviceId: drive.id, pointIds: [ramp.id], everyMs: 200 }),
    });
    const seen = new Set<number>();
    let text = '';
    for await (const chunk of response.body!) {
      text += new TextDecoder().decode(chunk);
      for (const line of text.split('\n').slice(0, -1)) {
        const event = JSON.parse(line) as SettingEvent;
        if (event.kind === 'held') seen.add(event.words[0]!);
      }
      if (seen.has(80)) break;
      bank.set('holding', 4, 80);
    }
    stop.abort();
    expect([...seen]).toEqual([75, 80]);
    expect(await refusal('settings/read', { pointIds: [ramp.id], everyMs: 5 })).toEqual([422, 'At least 200 ms.']);
  });

  it('go out among all else while the bench runs', async () => {
    expect((await call('POST', 'bench/run', {})).status).toBe(200);
    await eventually(async () => (await ask<{ running: boolean }>('GET', 'bench')).running);
    expect((await events('settings/write', { values: [{ pointId: ramp.id, words: [80] }] })).map(({ kind }) => kind)).toEqual(['written']);
    const filter = { functionCode: 6, hex: '00040050' };
    const { rows } = await ask<{ rows: object[] }>('POST', 'trace', { filter, upTo: null, from: 0, count: 10 });
    expect(rows.length).withContext('it stands in the trace of the bench').toBe(1);
    expect((await read())[1]).toEqual({ kind: 'held', pointId: ramp.id, words: [80] });
  });

  it('are refused where the real plant is not armed, and where something is wrong with what is asked', async () => {
    const values = [{ pointId: ramp.id, words: [90] }];
    expect(await refusal('settings/read', { on: 'real', pointIds: [ramp.id] })).toEqual([403, jasmine.stringContaining('not armed')]);
    expect(await refusal('settings/write', { on: 'real', values })).toEqual([403, jasmine.stringContaining('not armed')]);
    expect(await refusal('snapshots', { on: 'real', note: '' })).toEqual([403, jasmine.stringContaining('not armed')]);
    await call('PUT', 'armed', { minutes: 1 });
    expect(await refusal('settings/write', { on: 'real', values }))
      .withContext('reading is no writing')
      .toEqual([403, jasmine.any(String)]);
    expect(await refusal('settings/write', { values: [{ pointId: ramp.id, words: [1, 2] }] })).toEqual([
      422,
      'Ramp to top speed takes 1 registers.',
    ]);
    const other = demo.points.find(({ deviceId }) => deviceId !== drive.id)!;
    expect(await refusal('settings/read', { pointIds: [other.id] })).toEqual([404, 'This point is not of the device.']);
    expect(bank.get('holding', 4)).toBe(75);
    expect(await sentences()).toEqual(['Real devices may be asked for 1 min.']);
  });

  it('are not written to an armed plant while an edit waits', async () => {
    const { document } = await ask<{ document: ProjectDocument }>('GET', '');
    const mark = plantMark(plantActs(document, compile(document).plan));
    expect((await call('PUT', 'bench/armed', { word: demo.project.name, minutes: 5, mark, onEdit: 'goes on' })).status).toBe(200);
    const route = demo.routes[0]!;
    const changes = [{ entity: 'route', id: route.id, before: route, after: null }];
    expect((await call('POST', 'change-sets', { label: 'Edit', baseRevision: 0, changes })).status).toBe(200);
    const values = [{ pointId: ramp.id, words: [90] }];
    expect(await refusal('settings/write', { on: 'real', values })).toEqual([409, jasmine.stringContaining('An edit waits')]);
  });

  it('that a device held are kept with their date, listed, part of the project’s file, and forgotten', async () => {
    const told = await events('snapshots', { note: ' As delivered ' });
    expect(told.filter(({ kind }) => kind === 'unread')).toEqual([]);
    const kept = told.find((event) => event.kind === 'kept')!;
    const [snapshot, ...more] = await ask<Snapshot[]>('GET', 'snapshots');
    expect(more).toEqual([]);
    expect(snapshot).toEqual(
      jasmine.objectContaining({
        id: kept.snapshotId,
        deviceId: drive.id,
        device: 'Fan drive south',
        note: 'As delivered',
        on: 'stand-ins',
      }),
    );
    expect(snapshot!.values.find(({ pointId }) => pointId === ramp.id)?.words).toEqual([75]);
    expect(snapshot!.values.length).toBe(demo.points.filter(({ deviceId }) => deviceId === drive.id).length);

    const file = await ask<ProjectFile>('GET', 'file');
    expect(file.evidence.filter(({ kind }) => kind === 'snapshot').length).toBe(1);

    expect((await call('DELETE', `snapshots/${snapshot!.id}`)).status).toBe(200);
    expect((await call('DELETE', `snapshots/${snapshot!.id}`)).status).toBe(404);
    expect(await ask<Snapshot[]>('GET', 'snapshots')).toEqual([]);
  });

  it('of a device that does not answer are not kept', async () => {
    const other = demo.devices.find(({ name }) => name === 'Fan drive north')!;
    expect(await events('snapshots', { deviceId: other.id, note: '' })).toEqual([
      {
        kind: 'failed',
        sentence: jasmine.stringContaining(
          'Kiln gateway asked Fan drive north (unit 11) and got no answer (exception 11).',
        ) as unknown as string,
      },
    ]);
    expect(await ask<Snapshot[]>('GET', 'snapshots')).toEqual([]);
  });
});
