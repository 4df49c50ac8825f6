import { fernhollow } from '@plain-envoy/core/demo';
import { plainRoute, type ProjectDocument } from '@plain-envoy/core/model';
import { failed } from '../links/index.js';
import { answerPdu, RegisterBank } from '../server/index.js';
import type { ClientTransport, Exchange } from '../links/index.js';
import type { Batch } from '@plain-envoy/core/feed';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { Runner } from './index.js';
import { compile, compileWatch, compileWrite } from '@plain-envoy/core/compile';

/** All devices of the demo by unit ID, each a bank; a test can make one silent or strange. */
class Devices {
  readonly banks = new Map<number, RegisterBank>();
  readonly strange = new Map<number, () => Exchange>();
  readonly asked: { unit: number; pdu: number[] }[] = [];

  bank(unit: number): RegisterBank {
    const bank = this.banks.get(unit) ?? new RegisterBank({ holding: 200, input: 200, coil: 50, discrete: 50 });
    this.banks.set(unit, bank);
    return bank;
  }

  transport(): ClientTransport {
    return {
      exchange: async (unit, pdu) => {
        this.asked.push({ unit, pdu: [...pdu] });
        await new Promise((done) => setTimeout(done, 1));
        return this.strange.get(unit)?.() ?? { kind: 'answer', pdu: answerPdu(this.bank(unit), pdu) };
      },
      tell: (unit, pdu) => {
        this.asked.push({ unit, pdu: [...pdu] });
        return Promise.resolve({ kind: 'sent' });
      },
      close: () => undefined,
    };
  }
}

/** The kiln alone: its devices all have unit IDs of their own. */
const kiln = new Set(['Kiln controller', 'Fan drive north', 'Fan drive south', 'Air-on transmitter', 'Exhaust damper']);
const whole = fernhollow();
const ownerOf = (pointId: string) => whole.points.find((point) => point.id === pointId)!.deviceId;
const ownerName = (deviceId: string) => whole.devices.find(({ id }) => id === deviceId)!.name;
const isOfKiln = (pointId: string) => kiln.has(whole.devices.find((device) => device.id === ownerOf(pointId))!.name);
const demo: ProjectDocument = {
  ...whole,
  rounds: whole.rounds.map((round) => ({ ...round, periodMs: 20 })),
  routes: whole.routes.filter((route) => isOfKiln(route.sourceId) && isOfKiln(route.destinationId)),
};
const { plan } = compile(demo);
const [CONTROLLER, NORTH, AIR_ON, DAMPER] = [255, 11, 21, 41];
/** A silent device is tried again after so long at most. */
const REST_MS = 6000;
const routeId = (name: string) => demo.routes.find((route) => route.name === name)!.id;

async function all<T>(events: AsyncIterable<T>): Promise<T[]> {
  const told: T[] = [];
  for await (const event of events) told.push(event);
  return told;
}

describe('Runner', () => {
  let time: VirtualTime;
  let devices: Devices;
  let runner: Runner;
  const seen: {
    routes: Map<string, Batch['routes'][number]>;
    readings: Map<string, Batch['readings'][number]>;
    devices: Map<string, Batch['devices'][number]>;
  } = {
    routes: new Map(),
    readings: new Map(),
    devices: new Map(),
  };
  const look = () => {
    const batch = runner.collect();
    for (const row of batch.routes) seen.routes.set(row.routeId, row);
    for (const row of batch.readings) seen.readings.set(row.pointId, row);
    for (const row of batch.devices) seen.devices.set(row.id, row);
  };
  const quality = (name: string) => {
    look();
    return seen.routes.get(routeId(name))?.quality;
  };

  beforeEach(() => {
    time = new VirtualTime();
    for (const map of Object.values(seen)) map.clear();
    devices = new Devices();
    devices.bank(AIR_ON).set('input', 10, 0, 0x4276, 0, 0x4240);
    devices.bank(NORTH).set('input', 0, 0x17, 412, 78);
    devices.bank(CONTROLLER).set('holding', 64, 3, 412);
    runner = new Runner(() => devices.transport());
  });
  afterEach(() => {
    runner.stop();
    time.end();
  });

  it('carries every route of the plan, by value where so planned', async () => {
    runner.start(plan);
    await time.until(() => demo.routes.every((route) => quality(route.name) === 'good'));
    const controller = devices.bank(CONTROLLER);
    expect([...controller.slice('holding', 40, 2)]).toEqual([615, 480]);
    expect([...controller.slice('holding', 60, 3)]).toEqual([0x17, 412, 78]);
    expect([...devices.bank(NORTH).slice('holding', 0, 2)]).toEqual([3, 412]);
  });

  it('says why a device that stays silent delivers nothing, and goes on with the others', async () => {
    devices.strange.set(AIR_ON, () => ({ kind: 'answer', pdu: Uint8Array.of(0x84, 11) }));
    runner.start(plan);
    await time.until(() => quality('Air-on temperature') === 'bad' && quality('Fan north speed') === 'good');
    expect(seen.routes.get(routeId('Air-on temperature'))?.reason).toContain(
      'Kiln gateway asked Air-on transmitter (unit 21) and got no answer',
    );
    devices.strange.clear();
    await time.until(() => quality('Air-on temperature') === 'good', REST_MS);
  });

  it('counts valid, no response, corrupt and exceptions apart, and retries as often as the device states', async () => {
    const airOn = demo.devices.find((device) => device.name === 'Air-on transmitter')!;
    const counters = () => (look(), seen.devices.get(airOn.id));
    devices.strange.set(AIR_ON, () => failed({ code: 'no-answer' }));
    runner.start(plan);
    await time.until(() => (counters()?.noAnswer ?? 0) >= 4);
    const reads = devices.asked.filter(({ unit }) => unit === AIR_ON).map(({ pdu }) => pdu.join(' '));
    expect(reads[0]).toBe(reads[1]);
    devices.strange.set(AIR_ON, () => failed({ code: 'checksum' }));
    await time.until(() => (counters()?.damaged ?? 0) >= 2, REST_MS);
    devices.strange.set(AIR_ON, () => ({ kind: 'answer', pdu: Uint8Array.of(0x84, 2) }));
    await time.until(() => (counters()?.exceptions[2] ?? 0) >= 1, REST_MS);
    devices.strange.clear();
    await time.until(() => (counters()?.answered ?? 0) >= 1 && counters()?.lastOutcome === 'answered', REST_MS);
    expect(counters()?.lastMs).toBeGreaterThan(0);
  });

  it('writes by hand, and says what came of it', async () => {
    const target = demo.points.find(({ id }) => id === demo.routes.find(({ name }) => name === 'Fan north speed')!.destinationId)!;
    const write = compileWrite(demo, target);
    if (!write.ok) throw new Error(write.problem.message);
    expect(await time.during(runner.writeByHand(write.value, [300])))
      .withContext('it does not run')
      .toEqual(failed({ code: 'not-running' }));
    runner.start(plan);
    expect(await time.during(runner.writeByHand(write.value, [300]))).toEqual({ kind: 'written' });
    devices.strange.set(write.value.request.unitId, () => ({
      kind: 'answer',
      pdu: Uint8Array.of(write.value.request.functionCode | 0x80, 3),
    }));
    expect(await time.during(runner.writeByHand(write.value, [300]))).toEqual({
      kind: 'failed',
      failure: { code: 'exception', exception: 3 },
    });
  });

  it('times a value out and back, and puts the source back', async () => {
    const [coil] = demo.points.filter(({ table, deviceId }) => table === 'coil' && ownerName(deviceId) === 'Kiln controller');
    const at = (offset: number) => ({ ...coil!, id: `${coil!.id.slice(0, -2)}${offset}`, name: `Bit ${offset}`, offset });
    const [out, far, home] = [at(40), { ...at(41), deviceId: demo.devices.find(({ name }) => name === 'Fan drive north')!.id }, at(42)];
    const base = demo.routes[0]!;
    const carry = (id: string, source: typeof out, destination: typeof out) => ({
      ...base,
      ...plainRoute,
      id: `${base.id.slice(0, -2)}${id}`,
      name: id,
      carry: 'registers' as const,
      sourceId: source.id,
      destinationId: destination.id,
    });
    const document = { ...demo, points: [...demo.points, out, far, home], routes: [carry('f1', out, far), carry('f2', far, home)] };
    const trip = compile(document).plan;
    const write = compileWrite(document, out);
    if (!write.ok) throw new Error(write.problem.message);
    runner.start(trip);
    await time.until(
      () => (look(), seen.readings.get(out.id)?.quality === 'good' && seen.routes.get(trip.routes[1]!.id)?.quality === 'good'),
    );
    const times: (number | null)[] = [];
    for (const event of await time.during(
      all(runner.trips(trip.routes[0]!.id, trip.routes[1]!.id, write.value, { times: 3, withinMs: 5000 })),
    ))
      if (event.kind === 'trip') times.push(event.ms);
    expect(times.length).toBe(3);
    expect(times.every((ms) => ms !== null && ms > 0 && ms < 5000)).toBeTrue();
    expect(devices.bank(CONTROLLER).get('coil', 40)).toBe(0);
    devices.strange.set(NORTH, () => failed({ code: 'no-answer' }));
    const lost = await time.during(all(runner.trips(trip.routes[0]!.id, trip.routes[1]!.id, write.value, { times: 1, withinMs: 60 })));
    expect(lost).toEqual([{ kind: 'trip', number: 1, ms: null }]);
  });

  it('leaves a destination alone whose source cannot be carried, and writes its neighbours', async () => {
    devices.bank(AIR_ON).set('input', 10, 0, 0x7fc0);
    runner.start(plan);
    await time.until(() => quality('Air-on humidity') === 'good' && quality('Air-on temperature') === 'bad');
    expect(devices.bank(CONTROLLER).get('holding', 40)).toBe(0);
    expect(devices.bank(CONTROLLER).get('holding', 41)).toBe(480);
    expect(seen.routes.get(routeId('Air-on temperature'))?.reason).toContain('NaN cannot be held as int16');
  });

  it('never writes before the source was read', async () => {
    devices.strange.set(CONTROLLER, () => failed({ code: 'no-answer' }));
    runner.start(plan);
    await time.until(() => quality('Fan north command') === 'bad');
    const written = devices.asked.filter(({ unit, pdu }) => unit === NORTH && pdu[0]! > 4);
    expect(written).toEqual([]);
  });

  it('says of a destination that stays silent that nothing is written to it', async () => {
    devices.strange.set(NORTH, () => failed({ code: 'broken' }));
    runner.start(plan);
    const reason = () => (look(), seen.routes.get(routeId('Fan north command'))?.reason ?? '');
    await time.until(() => reason().startsWith('Fan drive north does not answer'));
    expect(quality('Fan north command')).toBe('bad');
    await time.until(() => quality('Damper position') === 'good');
  });

  it('takes an edited plan over while it runs and drops what is gone', async () => {
    runner.start(plan);
    await time.until(() => quality('Fan north speed') === 'good');
    const without = compile({ ...demo, routes: demo.routes.filter((route) => route.name === 'Damper position') }).plan;
    runner.load(without);
    await time.until(() => quality('Damper position') === 'good');
    const from = devices.asked.length;
    await time.until(() => devices.asked.length > from + 6);
    const units = new Set(devices.asked.slice(from + 2).map(({ unit }) => unit));
    expect([...units].sort()).toEqual([255, 41]);
  });

  it('carries a route that is added while it runs as soon as its source has been read once', async () => {
    const added = demo.routes.find((route) => route.name === 'Damper set point')!;
    const slow: ProjectDocument = { ...demo, rounds: demo.rounds.map((round) => ({ ...round, periodMs: 500 })) };
    const next = compile(slow).plan;
    const { offset } = next.requests.find(
      ({ kind, points }) => kind === 'read' && points.some(({ pointId }) => pointId === added.sourceId),
    )!;
    devices.bank(CONTROLLER).set('holding', 50, 734);
    runner.start(compile({ ...slow, routes: demo.routes.filter((route) => route !== added) }).plan);
    await time.until(() => quality('Fan north speed') === 'good');
    const from = devices.asked.length;
    runner.load(next);
    await time.until(() => devices.bank(DAMPER).get('holding', 0) === 734);
    const since = devices.asked.slice(from);
    const untilWritten = since.slice(
      0,
      since.findIndex(({ unit, pdu }) => unit === DAMPER && pdu[0] !== 3),
    );
    const reads = untilWritten.filter(({ unit, pdu }) => unit === CONTROLLER && pdu[0] === 3 && pdu[2] === offset);
    expect(reads.length).toBe(1);
  });

  it('fetches points that are only looked at', async () => {
    runner.start(plan);
    const point = demo.points.find((candidate) => candidate.name === 'Comms timeout')!;
    runner.watch(compileWatch(demo, plan, new Set([point.id])));
    await time.until(() => (look(), seen.readings.get(point.id)?.quality === 'good'));
    runner.watch({ endpoints: [], requests: [] });
    await time.until(() => quality('Fan north speed') === 'good');
  });

  it('holds nothing against a device that was left waiting when it was stopped', async () => {
    const hanging = (): ClientTransport => {
      const open: ((exchange: Exchange) => void)[] = [];
      return {
        exchange: () => new Promise((end) => open.push(end)),
        tell: () => new Promise(() => undefined),
        close: () => open.forEach((end) => end(failed({ code: 'closed' }))),
      };
    };
    const dial = [hanging, hanging];
    runner = new Runner(() => (dial.shift() ?? (() => devices.transport()))());
    runner.start(plan);
    await new Promise((done) => setImmediate(done));
    runner.stop();
    await new Promise((done) => setImmediate(done));
    runner.start(plan);
    const reasons: string[] = [];
    await time.until(() => {
      const all = demo.routes.every((route) => quality(route.name) === 'good');
      for (const { reason } of seen.routes.values()) if (reason) reasons.push(reason);
      return all;
    });
    expect(reasons.filter((reason) => reason.includes('does not answer'))).toEqual([]);
  });

  it('takes no notice of answers that come after it was stopped', async () => {
    const open: (() => void)[] = [];
    const slow: ClientTransport = {
      exchange: () => new Promise((done) => open.push(() => done(failed({ code: 'no-answer' })))),
      tell: () => new Promise(() => undefined),
      close: () => undefined,
    };
    runner = new Runner(() => slow);
    runner.start(plan);
    await time.until(() => (look(), [...seen.devices.values()].some(({ missed }) => missed > 2)));
    runner.stop();
    for (const end of open) end();
    await time.wind(20);
    for (const end of open) end();
    await time.wind(20);
    expect(runner.collect()).toEqual({ readings: [], routes: [], devices: [], requests: [] });
  });

  it('measures how often each request really runs, and how old values are when they arrive, anew for each plan', async () => {
    runner.start(plan);
    await time.until(() => quality('Fan north speed') === 'good');
    const measured = () => {
      const { requests } = runner.collect();
      return requests.find(({ pace }) => (pace?.runs ?? 0) > 5)?.pace;
    };
    let pace = measured();
    await time.until(() => (pace = measured() ?? pace) !== undefined);
    expect(pace!.meanPeriodMs!).toBeGreaterThan(15);
    expect(pace!.worstPeriodMs!).toBeGreaterThanOrEqual(pace!.meanPeriodMs!);
    expect(pace!.recent.every(({ fromMs, toMs, isSilent }) => toMs >= fromMs && !isSilent)).toBeTrue();
    const worstAge = () => (look(), seen.routes.get(routeId('Fan north speed'))?.age?.worstMs ?? 0);
    await time.until(() => worstAge() >= 15);
    runner.load(plan);
    const anew = runner.collect().requests.map((row) => row.pace?.runs ?? 0);
    expect(Math.max(0, ...anew)).toBeLessThan(3);
    await time.until(() => worstAge() > 0);
  });

  it('runs a chain one request after the other, in the order of the plan, and begins it anew when its way was gone', async () => {
    const [round] = demo.rounds;
    const rounds = [{ ...round!, pauseMs: 1, periodMs: 60 }];
    const chained = compile({ ...demo, rounds, routes: demo.routes.map((route) => ({ ...route, roundId: round!.id })) }).plan;
    let isStuck = false;
    let stuck = 0;
    runner = new Runner(() => {
      const own = devices.transport();
      const never = () => new Promise<Exchange>(() => (stuck += 1));
      return { ...own, exchange: (unit, pdu, timeoutMs) => (isStuck && pdu[0]! <= 4 ? never() : own.exchange(unit, pdu, timeoutMs)) };
    });
    runner.start(chained);
    const reads = () =>
      devices.asked.filter(({ unit, pdu }) => unit < 250 && pdu[0]! <= 4).map(({ unit, pdu }) => `${unit} ${pdu.join(' ')}`);
    await time.until(() => reads().indexOf(reads()[0]!, 1) > 0);
    const again = reads().indexOf(reads()[0]!, 1);
    expect(again).toBe(chained.requests.filter(({ kind, unitId }) => kind === 'read' && unitId < 250).length);
    expect(new Set(reads().slice(0, again)).size).toBe(again);

    isStuck = true;
    await time.until(() => stuck > 0);
    isStuck = false;
    runner.load({ ...chained, endpoints: chained.endpoints.map((endpoint) => ({ ...endpoint, name: `${endpoint.name} again` })) });
    let isBegunAnew = false;
    await time.until(() => (isBegunAnew ||= runner.collect().requests.some(({ restarts }) => restarts > 0)));
    const before = devices.asked.length;
    await time.until(() => devices.asked.length > before + 20);
  });

  it('asks nothing any more after it was stopped', async () => {
    runner.start(plan);
    await time.until(() => quality('Fan north speed') === 'good');
    runner.stop();
    await new Promise((done) => setImmediate(done));
    const asked = devices.asked.length;
    await time.wind(60);
    expect(devices.asked.length).toBe(asked);
  });
});
