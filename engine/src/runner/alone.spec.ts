import type { Batch, Counters, Reading, RouteState } from '@plain-envoy/core/feed';
import { compile, compileRead, compileWrite } from '@plain-envoy/core/compile';
import type { Device, Point, Route } from '@plain-envoy/core/model';
import { SmallProject } from '@plain-envoy/core/testing';
import { type ClientTransport, type Exchange, failed, type Frames } from '../links/index.js';
import { answerPdu, RegisterBank } from '../server/index.js';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { Runner } from './index.js';

const PERIOD_MS = 100;

/** Two devices with an address each, and what is carried from one to the other. */
describe('Runner, with two devices', () => {
  let time: VirtualTime;
  let small: SmallProject;
  let from: Device;
  let to: Device;
  let source: Point;
  let destination: Point;
  let runner: Runner;
  /** By device: its registers, how it answers if not as it should, and what it was asked. */
  let banks: Map<string, RegisterBank>;
  let strange: Map<string, () => Exchange>;
  let asked: { device: string; pdu: number[]; atMs: number; timeoutMs: number }[];
  /** Answers come no more, and no timeouts either. */
  let isStuck: boolean;
  let transports: { device: string; transport: ClientTransport; closed: boolean }[];
  const seen = {
    routes: new Map<string, RouteState>(),
    readings: new Map<string, Reading>(),
    devices: new Map<string, Counters>(),
    requests: new Map<string, Counters>(),
  };

  const look = (): Batch => {
    const batch = runner.collect();
    for (const row of batch.routes) seen.routes.set(row.routeId, row);
    for (const row of batch.readings) seen.readings.set(row.pointId, row);
    for (const row of batch.devices) seen.devices.set(row.id, row);
    for (const row of batch.requests) seen.requests.set(row.id, row);
    return batch;
  };
  const state = (route: Route) => (look(), seen.routes.get(route.id));
  const held = (device: Device, offset: number, count = 1) => [...banks.get(device.id)!.slice('holding', offset, count)];
  const carry = (fields: Partial<Route> = {}) => small.route(source, destination, small.document.rounds[0]!, fields);
  const planned = () => compile(small.document).plan;
  const asksOf = (device: Device, code?: number) =>
    asked.filter((row) => row.device === device.id && (code === undefined || row.pdu[0] === code));

  beforeEach(() => {
    time = new VirtualTime();
    for (const map of Object.values(seen)) map.clear();
    [banks, strange, asked, transports, isStuck] = [new Map(), new Map(), [], [], false];
    small = new SmallProject();
    const net = small.net();
    [from, to] = [small.device('From', { tries: 2, timeoutMs: 50 }), small.device('To', { tries: 1, timeoutMs: 50 })];
    for (const device of [from, to]) {
      small.port(device, net, { unitId: 7 });
      banks.set(device.id, new RegisterBank({ holding: 20, coil: 20 }));
    }
    small.round(PERIOD_MS);
    source = small.point(from, 'Source', { offset: 3 });
    destination = small.point(to, 'Destination', { offset: 5 });
    banks.get(from.id)!.set('holding', 3, 615);
    runner = new Runner((endpoint) => {
      const exchange = async (unit: number, pdu: Uint8Array, timeoutMs: number, frames?: Frames): Promise<Exchange> => {
        asked.push({ device: endpoint.id, pdu: [...pdu], atMs: performance.now(), timeoutMs });
        await new Promise((done) => (isStuck ? undefined : setTimeout(done, 2)));
        const odd = strange.get(endpoint.id)?.();
        if (odd) return odd;
        const answer = answerPdu(banks.get(endpoint.id)!, pdu);
        if (frames) [frames.sent, frames.got] = [Uint8Array.of(unit, ...pdu), Uint8Array.of(unit, ...answer)];
        return { kind: 'answer', pdu: answer };
      };
      const made = {
        device: endpoint.id,
        closed: false,
        transport: { exchange, close: () => void (made.closed = true) } as ClientTransport,
      };
      transports.push(made);
      return made.transport;
    });
  });
  afterEach(() => {
    runner.stop();
    time.end();
  });

  it('reads every period, writes what was read, and tells both with their times', async () => {
    const route = carry();
    runner.start(planned());
    await time.wind(PERIOD_MS / 2);
    expect(held(to, 5)).toEqual([615]);
    banks.get(from.id)!.set('holding', 3, 616);
    await time.wind(4 * PERIOD_MS);
    expect(held(to, 5)).toEqual([616]);
    const times = asksOf(from).map(({ atMs }) => atMs);
    expect(times.slice(1).map((at, index) => at - times[index]!)).toEqual(Array(times.length - 1).fill(PERIOD_MS));
    expect(times.length).toBe(5);
    expect(asksOf(from)[0]!.pdu).toEqual([3, 0, 3, 0, 1]);
    expect(asksOf(to)[0]!.pdu).toEqual([6, 0, 5, 0x02, 0x67]);
    expect(new Set(asked.map(({ timeoutMs }) => timeoutMs))).toEqual(new Set([50]));
    const told = state(route)!;
    expect([told.quality, told.reason, told.writtenWords, told.failures, told.isLost, told.isForced]).toEqual([
      'good',
      null,
      [616],
      0,
      false,
      false,
    ]);
    expect(told.writtenAtMs! - told.sourceAtMs!).toBeGreaterThanOrEqual(3);
    expect(seen.readings.get(source.id)).toEqual(jasmine.objectContaining({ words: [616], quality: 'good', reason: null }));
    expect(seen.devices.get(from.id)).toEqual(
      jasmine.objectContaining({ answered: 5, noAnswer: 0, damaged: 0, lastOutcome: 'answered', lastMs: 2 }),
    );
  });

  it('tells only what has changed since it was asked', async () => {
    carry();
    runner.start(planned());
    await time.wind(10);
    const first = look();
    expect([first.readings.length, first.tally]).toEqual([1, { good: 1 }]);
    expect(look()).toEqual({ readings: [], routes: [], devices: [], requests: [] });
  });

  it('tells of what is looked at alone, and at once of what nobody looked at before; how routes fare together it tells of all', async () => {
    const route = carry();
    strange.set(from.id, () => failed({ code: 'no-answer' }));
    runner.look({ points: [], routes: [], requests: [] });
    runner.start(planned());
    await time.wind(10);
    const unseen = look();
    expect([unseen.readings, unseen.routes, unseen.requests, unseen.tally]).toEqual([[], [], [], { bad: 1 }]);
    expect(unseen.devices.length).toBeGreaterThan(0);
    const { id } = planned().requests.find(({ kind }) => kind === 'read')!;
    runner.look({ points: [source.id], routes: [route.id], requests: [id] });
    const shown = look();
    expect([shown.readings.length, shown.routes.length, shown.requests.length]).toEqual([1, 1, 1]);
    expect(look()).toEqual({ readings: [], routes: [], devices: [], requests: [] });
  });

  it('says why a source is bad, leaves its destination alone, and goes on when it comes back', async () => {
    const route = carry();
    strange.set(from.id, () => failed({ code: 'no-answer' }));
    runner.start(planned());
    await time.wind(20);
    expect(state(route)).toEqual(
      jasmine.objectContaining({ quality: 'bad', reason: jasmine.stringContaining('From did not answer within 50 ms, asked 2 times.') }),
    );
    expect([asksOf(from).length, asksOf(to).length]).toEqual([2, 0]);
    strange.set(from.id, () => ({ kind: 'answer', pdu: Uint8Array.of(0x83, 2) }));
    await time.until(() => (look(), seen.devices.get(from.id)?.exceptions[2] === 1), 6000);
    await time.until(() => (look(), seen.readings.get(source.id)?.reason?.includes('illegal data address') ?? false), 6000);
    strange.clear();
    await time.until(() => state(route)?.quality === 'good', 6000);
    expect(held(to, 5)).toEqual([615]);
  });

  it('says of a destination that answers otherwise that nothing arrives', async () => {
    const route = carry();
    strange.set(to.id, () => ({ kind: 'answer', pdu: Uint8Array.of(0x86, 3) }));
    runner.start(planned());
    await time.wind(20);
    expect(state(route)).toEqual(
      jasmine.objectContaining({ quality: 'bad', writtenWords: null, reason: jasmine.stringContaining('To answers exception 3') }),
    );
    expect(seen.devices.get(to.id)).toEqual(jasmine.objectContaining({ answered: 0, lastOutcome: 'refused' }));
  });

  it('rests from a silent device, and says so of what is to be written there', async () => {
    const route = carry();
    strange.set(to.id, () => failed({ code: 'no-answer' }));
    runner.start(planned());
    await time.until(() => state(route)?.reason === 'To does not answer, so nothing is written to it until it is tried again.', 3000);
    const tries = asksOf(to).length;
    expect(tries).toBeLessThan(10);
    strange.clear();
    await time.until(() => state(route)?.quality === 'good', 6000);
  });

  it('keeps trace of each try, as it ended', async () => {
    carry();
    strange.set(from.id, () => failed({ code: 'checksum' }));
    runner.start(planned());
    await time.wind(20);
    strange.clear();
    await time.wind(PERIOD_MS);
    const records = runner.trace.since(0, 100).records.map(({ end, functionCode }) => `${functionCode} ${end}`);
    expect(records.slice(0, 2)).toEqual(['3 damaged', '3 damaged']);
    expect(records).toContain('3 answered');
    expect(records).toContain('6 answered');
  });

  it('forces a destination until it is released', async () => {
    const route = carry();
    runner.start(planned());
    await time.wind(10);
    runner.force(route.id, [99]);
    await time.wind(PERIOD_MS);
    expect(held(to, 5)).toEqual([99]);
    expect(state(route)).toEqual(
      jasmine.objectContaining({ isForced: true, quality: 'good', writtenWords: [99], reason: 'A person forces its destination.' }),
    );
    strange.set(to.id, () => ({ kind: 'answer', pdu: Uint8Array.of(0x86, 2) }));
    await time.wind(PERIOD_MS);
    expect(state(route)?.quality).toBe('bad');
    strange.clear();
    runner.force(route.id, null);
    await time.wind(PERIOD_MS);
    expect([held(to, 5), state(route)?.isForced]).toEqual([[615], false]);
  });

  it('writes what stands in for a lost source, and says so', async () => {
    const loss = { rule: 'value', value: 7, validId: null, afterMs: 250, stillMs: null } as const;
    const route = carry({ loss });
    runner.start(planned());
    await time.wind(10);
    strange.set(from.id, () => ({ kind: 'answer', pdu: Uint8Array.of(0x83, 4) }));
    await time.wind(2 * PERIOD_MS);
    expect([held(to, 5), state(route)?.isLost]).toEqual([[615], false]);
    await time.wind(2 * PERIOD_MS);
    expect(held(to, 5)).toEqual([7]);
    expect(state(route)).toEqual(
      jasmine.objectContaining({ isLost: true, quality: 'bad', reason: 'Source is lost; 7 is written in its place.', writtenWords: [7] }),
    );
  });

  it('tells whether a value can be trusted by a bit, on while each that shares it is', async () => {
    const valid = small.point(to, 'Valid', { table: 'coil', offset: 2, type: 'bit' });
    const other = small.point(from, 'Other', { offset: 4 });
    const loss = { rule: 'invalid', value: null, validId: valid.id, afterMs: 150, stillMs: null } as const;
    carry({ loss });
    small.route(other, small.point(to, 'Copy', { offset: 6 }), small.document.rounds[0]!, { loss });
    runner.start(planned());
    await time.wind(2 * PERIOD_MS);
    const isOn = () => banks.get(to.id)!.get('coil', 2);
    expect(isOn()).toBe(1);
    strange.set(from.id, () => ({ kind: 'answer', pdu: Uint8Array.of(0x83, 4) }));
    await time.wind(4 * PERIOD_MS);
    expect(isOn()).toBe(0);
    strange.clear();
    await time.wind(2 * PERIOD_MS);
    expect(isOn()).toBe(1);
  });

  it('fires a capture when an answer brings the value that is waited for', async () => {
    const capture = () => runner.trace.find({}, { upTo: null, from: -1, count: 1 }).capture;
    carry();
    runner.start(planned());
    runner.capture({ on: { kind: 'value', pointId: source.id, is: 'above', value: '700' }, action: 'begin' } as never, source);
    await time.wind(2 * PERIOD_MS);
    expect(capture()).toEqual({ state: 'waits to begin', because: null });
    banks.get(from.id)!.set('holding', 3, 701);
    await time.wind(PERIOD_MS);
    expect(capture()).toEqual({ state: 'keeps', because: 'Source is 701.' });
  });

  it('reads and writes by hand before what waits, also where no route goes', async () => {
    const guest = small.device('Guest');
    small.port(guest, small.document.lines[0] as never);
    banks.set(guest.id, new RegisterBank({ holding: 20 }));
    banks.get(guest.id)!.set('holding', 1, 42);
    const far = small.point(guest, 'Far', { offset: 1 });
    carry();
    const read = compileRead(small.document, far);
    const write = compileWrite(small.document, far);
    if (!read.ok || !write.ok) throw new Error('It can be reached.');
    expect(await runner.readByHand(read.value)).toEqual(failed({ code: 'not-running' }));
    runner.start(planned());
    expect(await time.during(runner.readByHand(read.value))).toEqual({ kind: 'values', values: [42] });
    expect(await time.during(runner.writeByHand(write.value, [43]))).toEqual({ kind: 'written' });
    expect(held(guest, 1)).toEqual([43]);
    await time.wind(PERIOD_MS);
    expect(held(to, 5)).toEqual([615]);
    strange.set(guest.id, () => failed({ code: 'no-answer' }));
    expect(await time.during(runner.readByHand(read.value))).toEqual(failed({ code: 'no-answer' }));
  });

  it('gives up what waits for a way that is gone, and for the end', async () => {
    carry();
    const read = compileRead(small.document, source);
    if (!read.ok) throw new Error(read.problem.message);
    const never = new Promise<never>(() => undefined);
    let stuck = 0;
    runner = new Runner(() => ({ exchange: () => ((stuck += 1), never), tell: () => never, close: () => undefined }));
    runner.start(planned());
    const many = Array.from({ length: 6 }, () => runner.readByHand(read.value));
    await time.wind(5);
    expect(stuck).toBeGreaterThan(0);
    runner.stop();
    const last = await time.during(many.at(-1)!);
    expect(last).toEqual(failed({ code: 'not-running' }));
  });

  it('closes the way to a device that is gone, opens one that is set otherwise, and keeps the rest', async () => {
    const route = carry();
    runner.start(planned());
    await time.wind(10);
    expect(transports.map(({ device }) => device).sort()).toEqual([from.id, to.id].sort());
    const port = small.document.ports.find(({ deviceId }) => deviceId === to.id)!;
    Object.assign(port, { tcpPort: 503 });
    runner.load(planned());
    expect(transports.filter(({ closed }) => closed).map(({ device }) => device)).toEqual([to.id]);
    await time.wind(PERIOD_MS);
    expect(state(route)?.quality).toBe('good');
    small.document.routes.length = 0;
    runner.load(planned());
    expect(transports.every(({ closed }) => closed)).toBeTrue();
    const before = asked.length;
    await time.wind(3 * PERIOD_MS);
    expect(asked.length).toBe(before);
  });

  it('fetches what is only looked at, and forgets it when nobody looks any more', async () => {
    const read = compileRead(small.document, source);
    if (!read.ok) throw new Error(read.problem.message);
    const { request, endpoint } = read.value;
    runner.start(planned());
    runner.watch({ endpoints: [endpoint], requests: [{ ...request, id: 'watch', kind: 'watch', periodMs: 50 }] });
    await time.wind(10);
    look();
    expect(seen.readings.get(source.id)?.words).toEqual([615]);
    runner.watch({ endpoints: [], requests: [] });
    const before = asked.length;
    await time.wind(200);
    expect(asked.length).toBe(before);
  });

  it('calls a value stale that should have come long ago, and what was carried with it', async () => {
    const route = carry();
    runner.start(planned());
    await time.wind(10);
    isStuck = true;
    await time.wind(900);
    expect([state(route)?.quality, seen.readings.get(source.id)?.quality]).toEqual(['good', 'good']);
    await time.wind(200);
    expect(state(route)?.quality).toBe('stale');
    expect(seen.readings.get(source.id)).toEqual(
      jasmine.objectContaining({
        quality: 'stale',
        words: [615],
        reason: jasmine.stringMatching(/^Last read 1\.\d s ago; it is due every 100 ms\.$/),
      }),
    );
  });

  it('asks nothing any more once it was stopped, and begins anew with nothing of before', async () => {
    const route = carry();
    runner.start(planned());
    await time.wind(10);
    runner.force(route.id, [5]);
    runner.stop();
    const before = asked.length;
    await time.wind(3 * PERIOD_MS);
    expect(asked.length).toBe(before);
    expect(transports.every(({ closed }) => closed)).toBeTrue();
    expect(runner.collect()).toEqual({ readings: [], routes: [], devices: [], requests: [] });
    runner.start(planned());
    await time.wind(10);
    expect([held(to, 5), state(route)?.isForced]).toEqual([[615], false]);
  });
});
