import { foundBeside, foundTally, type KeptObserved, newestObserved, type ObservingEvent } from '@plain-envoy/core/as-found';
import { fernhollow } from '@plain-envoy/core/demo';
import type { EthernetPort } from '@plain-envoy/core/media';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import { answerPdu, exception, ModbusTcpServer, RegisterBank } from '@plain-envoy/engine/server';
import type { Service } from '../service.js';
import { eventually, makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const deviceNamed = (name: string) => demo.devices.find((device) => device.name === name)!;
const drive = deviceNamed('Fan drive south');
const kilnBus = demo.lines.find(({ name }) => name === 'Kiln bus')!;
const [UNIT, UNKNOWN] = [12, 9];

describe('Looking at a plant', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;
  let gateway: ModbusTcpServer;

  const call = (method: string, path: string, body?: object, signal?: AbortSignal) =>
    fetch(`http://127.0.0.1:${service.port}/api/projects/${demo.project.id}${path && `/${path}`}`, {
      ...{ method, signal: signal ?? null },
      ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}),
    });
  const ask = async <T>(method: string, path: string, body?: object) => (await (await call(method, path, body)).json()) as T;
  const look = async (body: object) =>
    (await (await call('POST', 'found', { on: 'stand-ins', ids: [drive.id], ...body })).text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as ObservingEvent);
  const seen = async (body: object) => (await look(body)).flatMap((event) => (event.kind === 'observed' ? [event.observed] : []));
  const kept = () => ask<KeptObserved[]>('GET', 'found');
  const tally = (document: ProjectDocument, { of, body }: KeptObserved) => foundTally(foundBeside(document, of, body));
  const rowsOf = (observed: KeptObserved, document = demo) =>
    Object.fromEntries(foundBeside(document, observed.of, observed.body).map(({ what, found, verdict }) => [what, `${verdict}: ${found}`]));
  const change = async (entity: string, before: { id: string }, fields: object) => {
    const { revision } = await ask<{ revision: number }>('GET', '');
    const changes = [{ entity, id: before.id, before, after: { ...before, ...fields } }];
    expect((await call('POST', 'change-sets', { label: 'Edit', baseRevision: revision, changes })).status).toBe(200);
    return (await ask<{ document: ProjectDocument }>('GET', '')).document;
  };

  beforeEach(async () => {
    const bank = new RegisterBank({ holding: 16, input: 16 });
    bank.set('holding', 2, 30);
    bank.set('holding', 4, 75, 600);
    gateway = new ModbusTcpServer(
      async (unit, pdu) => {
        if (unit === UNIT || unit === UNKNOWN) return answerPdu(bank, pdu);
        await new Promise((done) => setTimeout(done, 15));
        return exception(pdu[0]!, 11);
      },
      { host: '127.40.8.30', port: 0, connections: 8 },
    );
    await gateway.start();
    database = await makeDatabase();
    service = await serve(database.url, gateway.port);
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
    await gateway.stop();
  });

  it('walks to a device, reads what its map says, and keeps what was seen, in the file of the project, too', async () => {
    const told = await look({});
    expect(told.map(({ kind }) => kind)).toEqual(['progress', 'observed', 'done']);
    const [observed] = await kept();
    expect(observed).toEqual(jasmine.objectContaining({ of: drive.id, revision: 0 }));
    expect(rowsOf(observed!)).toEqual(
      jasmine.objectContaining({
        Answer: jasmine.stringContaining('same'),
        'Comms timeout': 'same: 3.0 s',
        'Ramp to top speed': 'differs: 7.5 s',
      }),
    );
    await look({});
    expect((await kept()).length)
      .withContext('the newest alone')
      .toBe(1);
    const file = await ask<ProjectFile>('GET', 'file');
    expect(newestObserved(file.evidence).get(drive.id)).toEqual((await kept())[0]!);
  });

  it('looks where a revision has it, whatever the project became since', async () => {
    const port = demo.ports.find(({ deviceId }) => deviceId === drive.id)!;
    const moved = await change('port', port, { unitId: 13 });
    const [now] = await seen({});
    expect(rowsOf(now!, moved)['Answer']).toContain('differs');
    expect(rowsOf(now!)['Where it is asked']).toContain('unknown');
    const [then] = await seen({ revision: 0 });
    expect(then!.revision).toBe(0);
    expect(rowsOf(then!)['Comms timeout']).toBe('same: 3.0 s');
    expect((await call('POST', 'found', { on: 'stand-ins', ids: null, revision: 7 })).status).toBe(404);
  });

  it('does not ask over a connection of the bench that leads elsewhere', async () => {
    const port = demo.ports.find((one): one is EthernetPort => one.kind === 'ethernet' && one.deviceId === deviceNamed('Kiln gateway').id)!;
    await change('port', port, { ip: '10.40.8.33', standInAddress: '127.40.8.33' });
    expect((await call('POST', 'bench/run', {})).status).toBe(200);
    await eventually(async () => (await ask<{ running: boolean }>('GET', 'bench')).running);
    const [then] = await seen({ revision: 0 });
    expect(rowsOf(then!)['Comms timeout']).toBe('same: 3.0 s');
  });

  it('asks a device that takes one connection over that of the bench, which has it', async () => {
    const { port } = gateway;
    await gateway.stop();
    const bank = new RegisterBank({ holding: 16, input: 16 });
    bank.set('holding', 2, 30);
    gateway = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host: '127.40.8.30', port, connections: 1 });
    await gateway.start();
    expect((await call('POST', 'bench/run', {})).status).toBe(200);
    const isTaken = async () => {
      const [now] = await seen({});
      return rowsOf(now!)['Answer']?.includes('over the connection that this has already') ? now : null;
    };
    const now = (await eventually(isTaken))!;
    expect(rowsOf(now)['Comms timeout']).toBe('same: 3.0 s');
    expect(now.body.ended).toBeNull();
  });

  it('says of each that cannot be asked why, and goes on with the others', async () => {
    const ids = [deviceNamed('Weigh indicator').id, deviceNamed('Burner control').id, drive.id];
    const found = new Map((await seen({ ids })).map((observed) => [observed.body.name, observed]));
    expect([...found.keys()].sort()).toEqual(['Burner control', 'Fan drive south', 'Weigh indicator']);
    expect(rowsOf(found.get('Weigh indicator')!)['Where it is asked']).toBe('unknown: not asked');
    expect(rowsOf(found.get('Burner control')!)['Connection']).toContain('nothing listens on TCP port');
    expect(tally(demo, found.get(drive.name)!)).toContain('differ');
  });

  it('sees who else is on a line, and stops where the page hangs up', async () => {
    const waiting = await change('device', deviceNamed('Kiln gateway'), { timeoutMs: 20 });
    const [observed] = await seen({ ids: [kilnBus.id] });
    const rows = rowsOf(observed!, waiting);
    expect(rows[`unit ${UNIT}`]).toContain('same');
    expect(rows[`unit ${UNKNOWN}`]).toContain('differs: gives a register');
    expect(rows['unit 11']).toContain('differs: Nothing answers here');

    const stop = new AbortController();
    const response = await call('POST', 'found', { on: 'stand-ins', ids: null, sweeps: true }, stop.signal);
    await response.body!.getReader().read();
    stop.abort();
    const before = (await kept()).length;
    await new Promise((done) => setTimeout(done, 300));
    expect((await kept()).length - before)
      .withContext('at most what was being looked at')
      .toBeLessThanOrEqual(8);
  });

  it('asks nothing of the real plant that nobody has armed', async () => {
    const told = await look({ on: 'real', ids: null });
    expect(told.map(({ kind }) => kind)).toEqual(['failed']);
    expect(told.at(-1)).toEqual(jasmine.objectContaining({ sentence: jasmine.stringContaining('not armed') as unknown }));
    expect(await kept()).toEqual([]);
    expect((await call('POST', 'found', { on: 'stand-ins', ids: [] })).status).toBe(422);
  });
});
