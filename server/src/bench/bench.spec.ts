import { compile } from '@plain-envoy/core/compile';
import { plantActs, plantMark } from '@plain-envoy/core/plant';
import { fernhollow } from '@plain-envoy/core/demo';
import type { ErrandRun } from '@plain-envoy/core/errand';
import type { BenchState, Series } from '@plain-envoy/core/feed';
import type { Change, Errand, ProjectDocument } from '@plain-envoy/core/model';
import { readPackets } from '@plain-envoy/core/trace';
import type { CountersSeen } from '@plain-envoy/core/diagnose';
import type { Fact } from '@plain-envoy/core/codec';
import type { SerialPort } from '@plain-envoy/core/media';
import {
  answerInquiry,
  answerPdu,
  BusCounters,
  type DeviceSelf,
  FileStore,
  ModbusTcpServer,
  RegisterBank,
  exception,
} from '@plain-envoy/engine/server';
import type { Service } from '../service.js';
import { eventually, makeDatabase, serve } from '../testing.spec-helper.js';

const demo = fernhollow();
const projectId = demo.project.id;
const deviceNamed = (name: string) => demo.devices.find((device) => device.name === name)!;
const pointOf = (device: string, name: string) =>
  demo.points.find((point) => point.deviceId === deviceNamed(device).id && point.name === name)!;

describe('the bench', () => {
  let database: Awaited<ReturnType<typeof makeDatabase>>;
  let service: Service;
  let kiln: RegisterBank;
  let steep: RegisterBank;
  let display: RegisterBank;
  let servers: ModbusTcpServer[];

  const ask = async <T>(method: string, path: string, body?: object) => {
    const response = await fetch(`http://127.0.0.1:${service.port}/api/${path}`, {
      method,
      ...(body ? { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : {}),
    });
    return { status: response.status, body: (await response.json()) as T & { error: { message: string; path: unknown[] } } };
  };
  const bench = <T>(method: string, path: string, body?: object) =>
    ask<T>(method, `projects/${projectId}/bench${path && `/${path}`}`, body);
  const edit = async (...changes: Change[]) => {
    const { body } = await ask<{ revision: number }>('GET', `projects/${projectId}`);
    expect((await ask('POST', `projects/${projectId}/change-sets`, { label: 'Edit', baseRevision: body.revision, changes })).status).toBe(
      200,
    );
  };
  /** Only these routes, so that nothing else moves. */
  const keepRoutes = async (...names: string[]) => {
    const others = demo.routes.filter(({ name }) => !names.includes(name));
    await edit(...others.map((row): Change => ({ entity: 'route', id: row.id, before: row, after: null })));
  };
  /** What a person arms: the project as it is now. */
  const arm = async (other: object = {}) => {
    const { body } = await ask<{ document: ProjectDocument }>('GET', `projects/${projectId}`);
    const mark = plantMark(plantActs(body.document, compile(body.document).plan));
    return bench<BenchState>('PUT', 'armed', { word: demo.project.name, minutes: 5, mark, ...other });
  };
  const list = async () => (await ask<{ sentence: string }[]>('GET', `projects/${projectId}/by-hand`)).body.map(({ sentence }) => sentence);

  beforeEach(async () => {
    kiln = new RegisterBank({ holding: 512, coil: 512 });
    steep = new RegisterBank({ holding: 200, coil: 32 });
    display = new RegisterBank({ holding: 200 });
    servers = [];
    for (const [host, bank] of [
      ['127.40.8.10', kiln],
      ['127.40.8.11', steep],
      ['127.40.8.50', display],
    ] as const) {
      const port = servers[0]?.port ?? 0;
      const server = new ModbusTcpServer((_unit, pdu) => answerPdu(bank, pdu), { host, port, connections: 8 });
      await server.start();
      servers.push(server);
    }
    database = await makeDatabase();
    service = await serve(database.url, servers[0]!.port);
  });
  afterEach(async () => {
    await service.stop();
    await database.drop();
    for (const server of servers) await server.stop();
  });

  describe('with a gateway that answers for its devices', () => {
    const drive = deviceNamed('Fan drive north');
    const gateway = deviceNamed('Kiln gateway');
    const master = demo.ports.find((port): port is SerialPort => port.kind === 'serial' && port.deviceId === gateway.id)!;
    const SILENT_UNIT = 12;
    let asked: { unit: number; pdu: number[] }[];
    let counters: BusCounters;

    beforeEach(async () => {
      await keepRoutes();
      const port = demo.ports.find((row) => row.kind === 'ethernet' && row.deviceId === gateway.id)!;
      const host = port.kind === 'ethernet' ? port.standInAddress! : '';
      const self: DeviceSelf = {
        bank: new RegisterBank({ holding: 100 }),
        files: new FileStore(1),
        serverId: 'drive',
        objects: new Map([[0, 'Works']]),
      };
      [asked, counters] = [[], new BusCounters()];
      const server = new ModbusTcpServer(
        (unit, pdu) => {
          asked.push({ unit, pdu: [...pdu] });
          if (unit === 0) return null;
          if (unit === SILENT_UNIT) return exception(pdu[0]!, 11);
          counters.heard(unit, true);
          const answer = answerInquiry(self, counters, pdu) ?? answerPdu(self.bank, pdu);
          counters.answered(answer, pdu[0] !== 11);
          return answer;
        },
        { host, port: servers[0]!.port, connections: 8 },
      );
      await server.start();
      servers.push(server);
      await bench('POST', 'run', {});
    });

    it('asks a device what reaches no register, and says what it answers, or why nothing came', async () => {
      const inquire = (deviceId: string, question: object) =>
        bench<{ sentence: string; facts: Fact[] }>('POST', 'inquire', { deviceId, ask: question });
      const told = await inquire(drive.id, { functionCode: 43 });
      expect([told.status, told.body.sentence]).toEqual([200, 'Fan drive north answers vendor: Works.']);
      expect(told.body.facts).toEqual([{ name: 'vendor', text: 'Works', value: null }]);
      const refused = await inquire(drive.id, { functionCode: 20, file: 2, record: 0, count: 1 });
      expect([refused.status, refused.body.error.message]).toEqual([
        502,
        jasmine.stringContaining('exception 2, illegal data address') as never,
      ]);
      const onNet = await inquire(deviceNamed('Kiln controller').id, { functionCode: 11 });
      expect([onNet.status, onNet.body.error.message]).toEqual([422, jasmine.stringContaining('is for serial lines only') as never]);
      const wrong = await inquire(drive.id, { functionCode: 20, file: 0, record: 0, count: 1 });
      expect([wrong.status, wrong.body.error.message]).toEqual([422, 'Files start at 1.']);
      expect((await inquire('019aa000-0000-7000-8000-0000000fffff', { functionCode: 11 })).status).toBe(404);
    });

    it('changes nothing in a device before a person has confirmed it, and keeps what was done', async () => {
      const clear = { deviceId: drive.id, ask: { functionCode: 8, sub: 10 } };
      const before = await bench('POST', 'inquire', clear);
      expect([before.status, before.body.error.message]).toEqual([
        409,
        'This clears its counters and its diagnostic register. Confirm that Fan drive north may be changed so.',
      ]);
      expect(asked.some(({ pdu }) => pdu[0] === 8)).toBeFalse();
      expect((await bench('POST', 'inquire', { ...clear, confirmed: true })).status).toBe(200);
      expect(asked.some(({ pdu }) => pdu.join() === '8,0,10,0,0')).toBeTrue();
      expect((await list())[0]).toContain('Fan drive north was asked by function 8, which clears its counters');
    });

    it('reads what a device has counted, with what we have at that moment', async () => {
      const read = (deviceId: string) => bench<{ seen: CountersSeen | null; why: string | null }>('POST', 'counters', { deviceId });
      counters.heardDamage();
      const { body } = await read(drive.id);
      expect(body.why).toBeNull();
      expect(body.seen!.its).toEqual(jasmine.objectContaining({ damaged: 1, exceptions: 0, toIt: 4, overruns: 0 }));
      expect(body.seen!.ours).toEqual({ sent: 0, noAnswer: 0, damaged: 0, exceptions: 0 });
      const south = await read(deviceNamed('Fan drive south').id);
      expect(south.body.why).toContain('exception 11, gateway target failed to respond');
      expect(asked.filter(({ unit, pdu }) => unit === SILENT_UNIT && pdu[2] !== 11).length)
        .withContext('whoever does not answer one is not asked for the others')
        .toBe(0);
      const none = await read(deviceNamed('Kiln controller').id);
      expect([none.status, none.body.seen]).toEqual([200, null]);
      expect(none.body.why).toContain('is for serial lines only');
      await bench('POST', 'stop');
      expect((await read(drive.id)).status).toBe(409);
    });

    it('writes to every unit only through a gateway that is said to pass it on, and says that nobody confirms it', async () => {
      const point = pointOf('Exhaust damper', 'Set point');
      const toAll = { pointId: point.id, value: '73.4', broadcast: true };
      const refused = await bench('POST', 'write', toAll);
      expect([refused.status, refused.body.error.message]).toEqual([
        422,
        jasmine.stringContaining('Kiln gateway is not said to pass unit 0 on') as never,
      ]);
      const passing = { ...master, forwardedUnits: [{ first: 0, last: 247 }] };
      await edit({ entity: 'port', id: master.id, before: master, after: passing });
      const sent = await bench<{ sentence: string }>('POST', 'write', toAll);
      expect([sent.status, sent.body.sentence]).toEqual([
        200,
        '73.4 % (02DE) was sent to every unit of the line of Exhaust damper, for Set point; nobody confirms it.',
      ]);
      expect(asked.filter(({ unit }) => unit === 0)).toEqual([{ unit: 0, pdu: [6, point.offset >> 8, point.offset & 255, 2, 0xde] }]);
    });
  });

  it('writes what a person types, in units, by name or as registers, keeps a list of it, and says what does not fit', async () => {
    await keepRoutes();
    const setPoint = pointOf('Kiln controller', 'Damper set point');
    const command = pointOf('Kiln controller', 'Fan north command');
    expect((await bench('POST', 'write', { pointId: setPoint.id, value: '50' })).status).toBe(409);
    await bench('POST', 'run', {});
    const said = await bench<{ sentence: string }>('POST', 'write', { pointId: setPoint.id, value: '73,4' });
    expect([said.status, kiln.get('holding', 50)]).toEqual([200, 734]);
    await bench('POST', 'write', { pointId: command.id, value: 'on, run' });
    expect(kiln.get('holding', 64)).toBe(3);
    await bench('POST', 'write', { pointId: command.id, value: '0x80' });
    expect(kiln.get('holding', 64)).toBe(128);
    const writes = ['1', '2', '3'].map((value, index) => ({
      pointId: [setPoint, pointOf('Kiln controller', 'Fan north set point'), command][index]!.id,
      value: value === '3' ? '0b11' : value,
    }));
    expect((await bench('POST', 'write-block', { writes })).status).toBe(200);
    expect([50, 65, 64].map((offset) => kiln.get('holding', offset))).toEqual([10, 20, 3]);
    const wrong = await bench('POST', 'write', { pointId: setPoint.id, value: 'warm' });
    expect([wrong.status, wrong.body.error.path]).toEqual([422, ['value']]);
    const tooMuch = await bench('POST', 'write', { pointId: setPoint.id, value: '99999' });
    expect(tooMuch.body.error.message).toContain('6553.5');
    expect((await list()).at(-1)).toBe('Kiln controller, Damper set point was set to 73.4 % (02DE). (on the stand-ins)');
    expect((await list()).length).toBe(6);
  });

  it('forces a route until it is released, with a sign that everybody sees', async () => {
    await keepRoutes('Kiln state');
    await bench('POST', 'run', {});
    kiln.set('holding', 85, 2);
    await eventually(() => steep.get('holding', 120) === 2);
    const route = demo.routes.find(({ name }) => name === 'Kiln state')!;
    const forced = await bench('PUT', 'force', { routeId: route.id, value: '7' });
    expect(forced.status).toBe(200);
    await eventually(() => steep.get('holding', 120) === 7);
    const { body } = await bench<BenchState>('GET', '');
    expect(body.byHand).toEqual([{ kind: 'forced', id: route.id, name: route.name, text: '7' }]);
    await bench('PUT', 'force', { routeId: route.id, value: null });
    await eventually(() => steep.get('holding', 120) === 2);
    expect((await bench('PUT', 'force', { routeId: demo.routes[0]!.id, value: '1' })).status).toBe(422);
  });

  it('lets a value move for a while, and keeps what is seen of it over time', async () => {
    await keepRoutes();
    await bench('POST', 'run', {});
    const point = pointOf('Kiln controller', 'Humidity limit');
    await bench('POST', 'series', { pointIds: [point.id], sinceMs: 0 });
    const pattern = { kind: 'step', low: 10, high: 20, periodMs: 200, everyMs: 50, forMs: 60_000 };
    expect((await bench('POST', 'patterns', { pointId: point.id, pattern: { ...pattern, low: -5 } })).body.error.path).toEqual([
      'pattern',
      'low',
    ]);
    expect((await bench('POST', 'patterns', { pointId: point.id, pattern })).status).toBe(200);
    const seen = new Set<number>();
    await eventually(() => seen.add(kiln.get('holding', 132)).size > 2 || (seen.has(100) && seen.has(200)));
    const moving = (await bench<BenchState>('GET', '')).body.byHand;
    expect(moving).toEqual([jasmine.objectContaining({ kind: 'pattern', pointId: point.id })]);
    await eventually(async () => {
      const { body } = await bench<Series[]>('POST', 'series', { pointIds: [point.id], sinceMs: 0 });
      return (body[0]?.values.length ?? 0) > 2 && body[0]!.values.every((value) => value === 10 || value === 20 || value === 0);
    });
    await bench('DELETE', `patterns/${moving[0]!.id}`);
    expect((await bench<BenchState>('GET', '')).body.byHand).toEqual([]);
  });

  it('goes to the real plant only once a person has armed it by its name, and for so long only', async () => {
    const net = demo.ports.find((port) => port.kind === 'ethernet' && port.deviceId === deviceNamed('Kiln controller').id)!;
    if (net.kind !== 'ethernet') throw new Error('The kiln controller is on Ethernet.');
    const real = { ...net, ip: '127.40.8.10', tcpPort: servers[0]!.port, standInAddress: null };
    await keepRoutes();
    await edit({ entity: 'port', id: net.id, before: net, after: real });
    const refused = await bench('POST', 'run', { on: 'real' });
    expect([refused.status, refused.body.error.message]).toEqual([403, jasmine.stringContaining('not armed') as never]);
    const slip = await arm({ word: 'yes' });
    expect([slip.status, slip.body.error.path]).toEqual([422, ['word']]);
    const unseen = await arm({ mark: 'of an older list' });
    expect([unseen.status, unseen.body.error.path]).toEqual([409, ['mark']]);
    const armed = await arm();
    expect(armed.body.armedUntilMs).toBeGreaterThan(Date.now() + 290_000);
    expect((await bench<BenchState>('POST', 'run', { on: 'real' })).body.on).toBe('real');
    const wish = pointOf('Kiln controller', 'Damper set point');
    expect((await bench('POST', 'write', { pointId: wish.id, value: '12' })).status).toBe(200);
    expect(kiln.get('holding', 50)).toBe(120);
    expect((await list())[0]).toContain('(on the real plant)');
    const proof = await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/prove/routes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ routeIds: null, withLoss: false }),
    });
    expect(await proof.text()).toContain('The bench runs on the real plant, where nothing is driven');
    const after = await bench<BenchState>('DELETE', 'armed');
    expect([after.body.running, after.body.armedUntilMs]).toEqual([false, null]);
    expect((await bench('POST', 'run', { on: 'real' })).status).toBe(403);
  });

  describe('on the armed plant', () => {
    const reading = async () => (await bench<BenchState>('GET', '')).body;
    const follows = (probe: (state: BenchState) => unknown) => eventually(async () => probe(await reading()));
    const water = demo.routes.find(({ name }) => name === 'Steep water temperature')!;
    const place = pointOf('Kiln controller', 'Steep water temperature');
    const elsewhere = { ...place, offset: 300 };

    beforeEach(async () => {
      await keepRoutes('Steep water temperature');
      const others = demo.errands.map((row): Change => ({ entity: 'errand', id: row.id, before: row, after: null }));
      await edit(
        ...others,
        ...demo.ports.flatMap((port): Change[] => {
          if (port.kind !== 'ethernet' || !port.standInAddress?.match(/8\.1[01]$/)) return [];
          return [{ entity: 'port', id: port.id, before: port, after: { ...port, ip: port.standInAddress, tcpPort: servers[0]!.port } }];
        }),
      );
      steep.set('holding', 102, 150);
    });
    const move = () => edit({ entity: 'point', id: place.id, before: place, after: elsewhere });

    it('goes on with what was confirmed until an edit is confirmed too, and does nothing by hand meanwhile', async () => {
      await arm();
      await bench('POST', 'run', { on: 'real' });
      await eventually(() => kiln.get('holding', place.offset) === 150);
      await edit({ entity: 'point', id: place.id, before: place, after: { ...place, note: 'Said of it only.' } });
      await edit({ entity: 'point', id: place.id, before: { ...place, note: 'Said of it only.' }, after: place });
      await move();
      await follows(({ awaiting }) => awaiting);
      const { awaiting, running } = await reading();
      expect([running, awaiting!.count]).toEqual([true, 1]);
      expect(
        awaiting!.differences.map(({ change, act, was }) => [change, act.by, act.what.split(',')[0], was!.what.split(',')[0]]),
      ).toEqual([['changed', 'Steep water temperature', `${place.name} (W300`, `${place.name} (W${place.offset}`]]);
      steep.set('holding', 102, 163);
      await eventually(() => kiln.get('holding', place.offset) === 163);
      expect(kiln.get('holding', 300)).toBe(0);
      const hand = await bench('POST', 'write', { pointId: place.id, value: '12' });
      expect([hand.status, hand.body.error.message]).toEqual([409, jasmine.stringContaining('An edit waits')]);
      expect((await bench('PUT', 'force', { routeId: water.id, value: '12' })).status).toBe(409);
      expect((await bench('PUT', 'confirmed', { mark: 'another' })).status).toBe(409);
      expect((await bench<BenchState>('PUT', 'confirmed', { mark: awaiting!.mark })).body.awaiting).toBeNull();
      await eventually(() => kiln.get('holding', 300) === 163);
      expect((await list()).slice(0, 1)).toEqual(['1 differences of what is done on the real plant were confirmed.']);
    });

    it('takes nothing up that was taken back, and stops at an edit where that was chosen', async () => {
      await arm({ onEdit: 'stops' });
      await bench('POST', 'run', { on: 'real' });
      await eventually(() => kiln.get('holding', place.offset) === 150);
      await move();
      await follows(({ running }) => !running);
      const stopped = await reading();
      expect([stopped.byItself, stopped.awaiting?.count]).toEqual([jasmine.stringContaining('than was confirmed'), 1]);
      const again = await bench('POST', 'run', { on: 'real' });
      expect([again.status, again.body.error.message]).toEqual([409, jasmine.stringContaining('Look at the difference first')]);
      await ask('POST', `projects/${projectId}/undo`);
      await follows(({ awaiting }) => !awaiting);
      expect((await bench<BenchState>('POST', 'run', { on: 'real' })).body.running).toBeTrue();
      expect(kiln.get('holding', 300)).toBe(0);
    });

    it('is asked only after a person allowed it, by the same clock', async () => {
      const armed = await ask<BenchState>('PUT', `projects/${projectId}/armed`, { minutes: 3 });
      expect(armed.body.readingUntilMs).toBeGreaterThan(Date.now() + 170_000);
      expect((await bench('POST', 'run', { on: 'real' })).status).toBe(403);
      const over = await bench<BenchState>('DELETE', 'armed');
      expect(over.body.readingUntilMs).toBeNull();
      expect((await ask('PUT', `projects/${projectId}/armed`, { minutes: 0 })).status).toBe(422);
    });
  });

  describe('errands', () => {
    const own: Errand = {
      ...demo.errands[0]!,
      trigger: { on: 'hand' },
      steps: demo.errands[0]!.steps.map((step) => (step.kind === 'wait' ? { ...step, withinMs: 800 } : step)),
    };
    const runs = async () => (await ask<ErrandRun[]>('GET', `projects/${projectId}/errands/${own.id}/runs`)).body;
    const run = () => ask<ErrandRun>('POST', `projects/${projectId}/errands/${own.id}/run`, {});
    const ended = () => eventually(async () => (await runs())[0]);
    const steps = (row: ErrandRun) => row.steps.map(({ step, ok, sentence }) => `${step} ${ok} ${sentence}`);
    const textOf = (bank: RegisterBank, offset: number) =>
      [...bank.slice('holding', offset, 16)]
        .map((word) => String.fromCharCode(word >>> 8, word & 0xff))
        .join('')
        .replace(/\0+$/, '');

    beforeEach(async () => {
      await keepRoutes();
      await edit({ entity: 'errand', id: own.id, before: demo.errands[0]!, after: own });
      steep.set('holding', 100, 5, 1);
    });

    it('run their steps in order, with what was read put into what is written, and keep each run', async () => {
      display.set('holding', 100, 1);
      const repeat = setInterval(() => display.set('holding', 110, ...display.slice('holding', 0, 16)), 5);
      await bench('POST', 'run', {});
      expect((await run()).status).toBe(200);
      const twice = await run();
      expect([twice.status, twice.body.error.message]).toEqual([409, jasmine.stringContaining('runs already') as never]);
      const done = await ended();
      clearInterval(repeat);
      expect([done.state, done.sentence]).toEqual(['done', 'It ran to its end.']);
      expect(textOf(display, 0)).toBe('Batch 65541 is ready');
      expect(steps(done).slice(0, 2)).toEqual(['1 true Batch number is 65541.', '2 true Text was set to Batch 65541 is ready.']);
    });

    it('fail at the step that fails, and say what was seen', async () => {
      await bench('POST', 'run', {});
      await run();
      const failed = await ended();
      expect([failed.state, failed.steps.length]).toEqual(['failed', 4]);
      expect(failed.sentence).toBe('Step 4: Status word did not become so within 800 ms; it is no bit.');
      display.set('holding', 100, 1);
      await run();
      const reply = await eventually(async () => (await runs()).find((row) => row.id !== failed.id));
      expect(reply.sentence).toContain('Step 5: Reply is ');
    });

    it('are set off by a bit that rises, once each time, and not by one that is on already', async () => {
      const ready = pointOf('Kiln controller', 'Batch is ready');
      const triggered: Errand = { ...own, trigger: { on: 'edge', pointId: ready.id }, steps: own.steps.slice(0, 1) };
      await edit({ entity: 'errand', id: own.id, before: own, after: triggered });
      kiln.set('coil', ready.offset, 1);
      await bench('POST', 'run', {});
      const seen = async () => {
        const { body } = await bench<Series[]>('POST', 'series', { pointIds: [ready.id], sinceMs: 0 });
        return body[0]?.values.at(-1);
      };
      await eventually(async () => (await seen()) === 1);
      kiln.set('coil', ready.offset, 0);
      await eventually(async () => (await seen()) === 0);
      expect(await runs()).toEqual([]);
      kiln.set('coil', ready.offset, 1);
      const done = await ended();
      expect([done.state, done.startedBy]).toEqual(['done', 'Batch is ready went on']);
      expect((await runs()).length).toBe(1);
    });

    it('do not run where the bench does not, nor beside another on the same device, and can be stopped', async () => {
      expect((await run()).status).toBe(409);
      await bench('POST', 'run', {});
      const long: Errand = {
        ...own,
        id: '019aa000-0000-7000-8000-0000000fffff',
        name: 'Long',
        steps: [
          { kind: 'read', pointId: pointOf('Yard display', 'Text').id },
          { kind: 'pause', ms: 60_000 },
        ],
      };
      await edit({ entity: 'errand', id: long.id, before: null, after: long });
      const going = await ask<ErrandRun>('POST', `projects/${projectId}/errands/${long.id}/run`, {});
      const beside = await run();
      expect([beside.status, beside.body.error.message]).toEqual([409, jasmine.stringContaining('Long works on Yard display') as never]);
      await ask('POST', `projects/${projectId}/errand-runs/${going.body.id}/stop`, {});
      const stopped = await eventually(
        async () => (await ask<ErrandRun[]>('GET', `projects/${projectId}/errands/${long.id}/runs`)).body[0],
      );
      expect(stopped.state).toBe('stopped');
    });
  });

  it('keeps proofs of routes, says why one cannot be proved, and does not prove beside another', async () => {
    await keepRoutes('Kiln state');
    const response = await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/prove/routes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ routeIds: null, withLoss: false }),
    });
    const events = (await response.text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { kind: string });
    // There is no control interface here that could drive a stand-in.
    expect(events.map(({ kind }) => kind)).toContain('proof');
    const { body } = await ask<{ state: string; sentence: string; revision: number; fingerprint: string }[]>(
      'GET',
      `projects/${projectId}/proofs`,
    );
    expect(body.map(({ state, sentence, revision }) => [state, sentence, revision])).toEqual([
      ['not proved', 'No stand-ins were started with this server.', 1],
    ]);
    expect(body[0]!.fingerprint).toBeTruthy();
    expect((await bench<BenchState>('GET', '')).body.running).toBeFalse();
  });

  it('runs programs of controllers on stand-ins only, and says by whose program a proof was', async () => {
    await keepRoutes('Kiln state');
    const prove = async (body: object) => {
      const response = await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/prove/routes`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ routeIds: null, withLoss: false, byPrograms: true, ...body }),
      });
      return JSON.parse((await response.text()).trim().split('\n').at(-1)!) as { kind: string; sentence: string };
    };
    expect(await prove({ on: 'real' })).toEqual({
      kind: 'failed',
      sentence: 'Programs run in the place of stand-ins; on the real plant the controllers have their own.',
    });
    expect((await prove({})).kind).toBe('done');
    const { body } = await ask<{ sentence: string }[]>('GET', `projects/${projectId}/proofs`);
    expect(body.map(({ sentence }) => sentence)).toEqual([
      'No stand-ins were started with this server. By the program of Kiln controller, a scan each 10 ms.',
    ]);
    expect((await bench<BenchState>('GET', '')).body.running).toBeFalse();
  });

  it('proves on the plant itself what a person moves there, and passes a route over', async () => {
    await keepRoutes('Steep water temperature', 'Batch number');
    const [water, batch] = ['Steep water temperature', 'Batch number'].map((name) => demo.routes.find((row) => row.name === name)!);
    await edit(
      ...demo.ports.flatMap((port): Change[] => {
        if (port.kind !== 'ethernet' || !port.standInAddress?.match(/8\.1[01]$/)) return [];
        return [{ entity: 'port', id: port.id, before: port, after: { ...port, ip: port.standInAddress, tcpPort: servers[0]!.port } }];
      }),
    );
    expect((await bench('POST', 'run', { on: 'real' })).status).toBe(403);
    await arm();
    expect((await bench<BenchState>('POST', 'run', { on: 'real' })).body.on).toBe('real');
    steep.set('holding', 102, 150);
    await eventually(() => kiln.get('holding', pointOf('Kiln controller', 'Steep water temperature').offset) === 150);

    const response = await fetch(`http://127.0.0.1:${service.port}/api/projects/${projectId}/prove/routes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ routeIds: [water!.id, batch!.id], withLoss: false, on: 'real' }),
    });
    const told: string[] = [];
    let text = '';
    for await (const piece of response.body!.pipeThrough(new TextDecoderStream())) {
      text += piece;
      const lines = text.split('\n');
      text = lines.pop()!;
      for (const line of lines) {
        const event = JSON.parse(line) as { kind: string; routeId: string; sentence: string; proof: { state: string; routeId: string } };
        if (event.kind === 'ask') told.push(event.sentence.replace(/; it is .*|\.$/, ''));
        if (event.kind === 'ask' && event.routeId === water!.id) steep.set('holding', 102, 163);
        if (event.kind === 'ask' && event.routeId === batch!.id) await ask('POST', `projects/${projectId}/prove/routes/${batch!.id}/skip`);
        if (event.kind === 'proof') told.push(`${event.proof.routeId === water!.id} ${event.proof.state}`);
      }
    }
    expect(told).toEqual(['Move Batch number', 'Move Steep water temperature', 'true carried']);
    expect((await ask('POST', `projects/${projectId}/prove/routes/${batch!.id}/skip`)).status).toBe(409);
  }, 60_000);

  it('lets a capture go to a file while it comes, which is ended by a person, and refuses one while nothing runs', async () => {
    await keepRoutes('Steep water temperature');
    const path = `projects/${projectId}/trace/captures`;
    expect((await ask('POST', path, { filter: {} })).status).toBe(409);
    await bench('POST', 'run', {});
    const { id } = (await ask<{ id: string }>('POST', path, { filter: { onlyTrouble: false } })).body;
    const response = await fetch(`http://127.0.0.1:${service.port}/api/${path}/${id}.pcapng`);
    expect(response.headers.get('content-disposition')).toContain('capture.pcapng');
    const whole = response.arrayBuffer();
    const filling = async () => {
      const { body } = await ask<{ files: { exchanges: number }[] }>('POST', `projects/${projectId}/trace`, {
        ...{ filter: {}, upTo: null, from: -1, count: 1 },
      });
      return (body.files[0]?.exchanges ?? 0) > 2;
    };
    await eventually(filling);
    expect((await ask('DELETE', `${path}/${id}`)).status).toBe(200);
    const read = readPackets(new Uint8Array(await whole));
    expect(read.ok && read.value.length).toBeGreaterThan(2);
    expect((await ask('DELETE', `${path}/${id}`)).status).toBe(404);
  });
});
