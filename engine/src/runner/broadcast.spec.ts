import { compile, compileInquiry, compileWrite } from '@plain-envoy/core/compile';
import type { Counters, RouteState } from '@plain-envoy/core/feed';
import { SmallProject } from '@plain-envoy/core/testing';
import { failed, type Telling } from '../links/index.js';
import { answerPdu, RegisterBank } from '../server/index.js';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { Runner } from './index.js';

const PERIOD_MS = 1000;

describe('Runner, with a route to every unit of a line', () => {
  let time: VirtualTime;
  let runner: Runner;
  let told: { unit: number; pdu: number[]; turnaroundMs: number; atMs: number }[];
  let telling: () => Telling;
  const routes = new Map<string, RouteState>();
  const devices = new Map<string, Counters>();

  const small = new SmallProject();
  const [net, bus] = [small.net(), small.bus('Bus', { turnaroundMs: 80 })];
  const controller = small.controller('Controller', net);
  const drive = small.device('Drive');
  small.port(drive, bus);
  const to = small.point(drive, 'Set point', { offset: 7 });
  const route = small.route(small.point(controller, 'Wanted', { offset: 1 }), to, small.round(PERIOD_MS), {
    broadcast: true,
    onlyDifferent: true,
  });
  const bank = new RegisterBank({ holding: 20 });

  const look = () => {
    const batch = runner.collect();
    for (const row of batch.routes) routes.set(row.routeId, row);
    for (const row of batch.devices) devices.set(row.id, row);
    return routes.get(route.id)!;
  };

  beforeEach(() => {
    time = new VirtualTime();
    [told, telling] = [[], () => ({ kind: 'sent' })];
    bank.set('holding', 1, 615);
    runner = new Runner(() => ({
      exchange: (_unit, pdu) => Promise.resolve({ kind: 'answer', pdu: answerPdu(bank, pdu) }),
      async tell(unit, pdu, turnaroundMs, frames) {
        told.push({ unit, pdu: [...pdu], turnaroundMs, atMs: performance.now() });
        if (frames) frames.sent = Uint8Array.of(unit, ...pdu);
        await new Promise((done) => setTimeout(done, turnaroundMs));
        return telling();
      },
      close: () => undefined,
    }));
    runner.start(compile(small.document).plan);
  });
  afterEach(() => {
    runner.stop();
    time.end();
    routes.clear();
    devices.clear();
  });

  it('sends it as unit 0, and tells it sent, not good: nobody confirms it', async () => {
    await time.wind(PERIOD_MS / 2);
    expect(told.map(({ atMs: _, ...row }) => row)).toEqual([{ unit: 0, pdu: [6, 0, 7, 0x02, 0x67], turnaroundMs: 80 }]);
    const state = look();
    expect([state.quality, state.writtenWords]).toEqual(['sent', [615]]);
    expect(state.reason).toContain('Nobody confirms a broadcast');
    expect(devices.get(drive.id))
      .withContext('nothing is known of the device by that')
      .toEqual(jasmine.objectContaining({ answered: 0, noAnswer: 0, lastOutcome: null }));
    const { records } = runner.trace.find({}, { upTo: null, from: 0, count: 10 });
    expect(records.find(({ unit }) => unit === 0)).toEqual(jasmine.objectContaining({ end: 'sent', got: null, failure: null, ms: 80 }));
  });

  it('stays sent while nothing new is to be sent, and is stale or bad like any other', async () => {
    await time.wind(2.5 * PERIOD_MS);
    expect([told.length, look().quality]).toEqual([1, 'sent']);
    telling = () => failed({ code: 'exception', exception: 10 });
    bank.set('holding', 1, 616);
    await time.wind(PERIOD_MS);
    expect(look().quality).toBe('bad');
    expect(look().reason).toContain('exception 10');
  });

  it('writes to all by hand, and asks a device about itself before everything that waits', async () => {
    const write = compileWrite(small.document, to, true);
    const inquiry = compileInquiry(small.document, drive.id, { functionCode: 8, sub: 4, data: 0 });
    if (!write.ok || !inquiry.ok) throw new Error('They can be.');
    expect(await time.during(runner.writeByHand(write.value, [9]))).toEqual({ kind: 'written', isUnconfirmed: true });
    expect(await time.during(runner.inquire(inquiry.value))).toEqual({ kind: 'told', facts: [] });
    expect(told.slice(-2).map(({ unit, pdu }) => [unit, pdu[0]])).toEqual([
      [0, 6],
      [1, 8],
    ]);
    const { records } = runner.trace.find({}, { upTo: null, from: 0, count: 10 });
    expect(records.map(({ functionCode, end, requestId }) => [functionCode, end, requestId === null])).toContain([8, 'sent', true]);
    runner.stop();
    expect(await runner.inquire(inquiry.value)).toEqual(failed({ code: 'not-running' }));
  });
});
