import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { lineTime } from '../line/index.js';
import { applyChanges, type ProjectDocument } from '../model/index.js';
import { advise, AgeTracker, asItIs, durationsOf, forecast, type Forecast, lateOf, onProject, whatIfChanges } from './index.js';
import { compile, compiler } from '../compile/index.js';
import type { SerialLine } from '../media/index.js';

const demo = fernhollow();
const { plan } = compile(demo);
const idOf = (name: string) => demo.devices.find((device) => device.name === name)!.id;
const healthy = { horizonMs: 20_000, dead: [] as string[], backsOff: true };
const ageOf = (said: Forecast, name: string) =>
  said.routes.find(({ id }) => id === demo.routes.find((route) => route.name === name)!.id)!.age;
const device = (document: ProjectDocument, name: string, fields: object): ProjectDocument => ({
  ...document,
  devices: document.devices.map((row) => (row.name === name ? { ...row, ...fields } : row)),
});

describe('durations', () => {
  it('are those of the line’s bytes, the device’s delay, and the gateway', () => {
    const bus = demo.lines.find((line): line is SerialLine => line.name === 'Loft bus')!;
    const request = plan.requests.find(({ deviceId, kind }) => deviceId === idOf('Grain cable 1') && kind === 'read')!;
    const { totalMs } = lineTime({
      settings: bus,
      framing: 'rtu',
      functionCode: request.functionCode,
      count: request.count,
      responseDelayMs: 5,
    });
    const [duration] = durationsOf(demo, [request]).values();
    expect(duration!.answeredMs - totalMs).toBeGreaterThan(1);
    expect(duration!.answeredMs - totalMs).toBeLessThan(3);
    expect(duration!.silentMs).withContext('the gateway gives up first').toBeLessThan(300);
    const patient = device(demo, 'Loft gateway', { timeoutMs: 5000 });
    expect([...durationsOf(patient, [request]).values()][0]!.silentMs)
      .withContext('then the device’s own timeout counts')
      .toBe(1000);
  });

  it('count what a link loses', () => {
    const request = plan.requests.find(({ deviceId }) => deviceId === idOf('Loft humidity bridge'))!;
    expect([...durationsOf(demo, [request]).values()][0]!.loss).toBe(0.03);
  });
});

describe('the age of a value', () => {
  it('is, for a change at any moment, the time until a value that was asked for after it arrives', () => {
    const step = fc.record({ wait: fc.integer({ min: 1, max: 50 }), travel: fc.integer({ min: 1, max: 20 }) });
    fc.assert(
      fc.property(fc.array(step, { minLength: 2, maxLength: 12 }), (steps) => {
        const tracker = new AgeTracker();
        const arrivals: { sampled: number; at: number }[] = [];
        let now = 0;
        for (const { wait, travel } of steps) {
          arrivals.push({ sampled: now + wait, at: now + wait + travel });
          now += wait + travel;
        }
        for (const { sampled, at } of arrivals) tracker.arrived(sampled, at);
        const [first, last] = [arrivals[0]!.sampled, arrivals.at(-1)!.sampled];
        const ages: number[] = [];
        for (let change = first + 0.5; change < last; change++) ages.push(arrivals.find(({ sampled }) => sampled > change)!.at - change);
        const age = tracker.age(now)!;
        expect(age.meanMs).toBeCloseTo(ages.reduce((sum, each) => sum + each, 0) / ages.length, 6);
        expect(age.worstMs + 0.5).toBeGreaterThan(Math.max(...ages));
        expect(age.worstMs).toBeLessThan(Math.max(...ages, steps[0]!.travel) + 1);
      }),
    );
  });

  it('grows while nothing arrives, and is not known before the first', () => {
    const tracker = new AgeTracker();
    expect(tracker.age(100)).toBeNull();
    tracker.arrived(100, 120);
    expect(tracker.age(120)).toEqual({ meanMs: 20, worstMs: 20 });
    expect(tracker.age(1000)!.worstMs).toBe(900);
  });
});

describe('the forecast of the demo', () => {
  it('holds every period while all answer', () => {
    // Over a minute, so that it counts little how long what is due each 10 s waited the first time.
    const said = forecast(demo, plan, { ...healthy, horizonMs: 60_000 });
    for (const { meanPeriodMs, wishedMs, missed, rested } of said.requests) {
      expect(Math.abs(meanPeriodMs! - wishedMs) / wishedMs).toBeLessThan(0.01);
      expect([missed, rested]).toEqual([0, 0]);
    }
    const bus = said.lanes.find(({ name }) => name === 'Kiln bus')!;
    expect(bus.utilisation).toBeGreaterThan(0.3);
    expect(bus.utilisation).toBeLessThan(0.6);
  });

  it('lets a value be as old as its period and the way take, and the dead one never arrive', () => {
    const said = forecast(demo, plan, { ...healthy, dead: [idOf('Air-on transmitter')] });
    expect(ageOf(said, 'Air-on temperature')).toBeNull();
    const { meanMs, worstMs } = ageOf(forecast(demo, plan, healthy), 'Air-on temperature')!;
    expect(worstMs).toBeGreaterThan(500);
    expect(worstMs).toBeLessThan(800);
    expect(meanMs).toBeLessThan(worstMs - 200);
  });

  it('shows what one dead device does to the others on its line, with back-off and without', () => {
    const dead = [idOf('Fan drive north')];
    const others = ({ requests }: Forecast) => {
      const own = requests.filter(({ laneId, id }) => laneId === idOf('Kiln gateway') && !id.includes(dead[0]!));
      return Math.max(...own.filter(({ wishedMs }) => wishedMs < 10_000).map(({ meanPeriodMs, wishedMs }) => meanPeriodMs! / wishedMs));
    };
    expect(others(forecast(demo, plan, { ...healthy, dead }))).toBeLessThan(1.1);
    expect(others(forecast(demo, plan, { ...healthy, dead, backsOff: false }))).toBeGreaterThan(1.5);
  });

  it('is the same each time, losses too', () => {
    const lossy = device(demo, 'Loft humidity bridge', { lossPercent: 40 });
    expect(forecast(lossy, plan, healthy)).toEqual(forecast(lossy, plan, healthy));
    const tried = forecast(lossy, plan, healthy).spans.filter(({ id }) => id.includes(idOf('Loft humidity bridge')));
    expect(Math.max(...tried.map(({ fromMs, toMs }) => toMs - fromMs))).toBeGreaterThan(250);
  });
});

describe('advice', () => {
  /** The demo with everything carried every 100 ms at 9600 baud, and with limits that its usual periods would keep. */
  const hasty = (): ProjectDocument => {
    const periods = new Map(demo.rounds.map(({ id, periodMs }) => [id, periodMs]));
    return {
      ...demo,
      lines: demo.lines.map((line) => (line.kind === 'serial' ? { ...line, baud: 9600 } : line)),
      rounds: demo.rounds.map((round) => ({ ...round, periodMs: 100 })),
      routes: demo.routes.map((route) => ({ ...route, maxAgeMs: periods.get(route.roundId)! * 3 })),
    };
  };

  it('brings the values of a hasty schedule within their limits in a few accepted steps', () => {
    let document = hasty();
    const again = compiler();
    const late = () => lateOf(forecast(document, again(document).plan, healthy));
    expect(late()).toBeGreaterThan(10);
    let [steps, costs] = [0, 0];
    while (late() > 0 && steps < 5) {
      const [best] = advise(document, healthy, again);
      if (!best) break;
      document = applyChanges(document, best.changes);
      if (best.cost) costs += 1;
      steps += 1;
    }
    expect(late()).toBe(0);
    expect(steps).toBeLessThan(4);
    expect(costs).withContext('periods that get longer make some value older').toBeGreaterThan(0);
  });

  it('moves values that may be older out of a round that is too fast for their line', () => {
    const [fast] = demo.rounds;
    const document = { ...demo, routes: demo.routes.map((route) => ({ ...route, roundId: fast!.id, maxAgeMs: 30_000 })) };
    const labels = advise(document, healthy, compiler()).map(({ label }) => label);
    expect(labels.some((label) => /^Move \d+ values of .* to “Every ten seconds”/.test(label))).toBeTrue();
  });

  it('shortens the timeout of whoever waits for a device that is dead, and says what that brings', () => {
    const document = {
      ...device(demo, 'Kiln gateway', { timeoutMs: 3000 }),
      routes: demo.routes.map((route) => ({ ...route, maxAgeMs: route.name.startsWith('Damper') ? 2800 : null })),
    };
    const dead = { ...healthy, dead: [idOf('Fan drive north')] };
    const shorter = (real: Record<string, number>) =>
      advise(document, dead, compiler(), real).find(({ label }) => label.startsWith('Shorten the timeout of Kiln gateway from'));
    expect(shorter({ [idOf('Fan drive south')]: 61 })?.label).toContain(
      'from 3000 to 350 ms (the worst answer of the real devices took 61 ms, and 5 times as long is left)',
    );
    expect(shorter({ [idOf('Fan drive south')]: 61 })?.gain).toMatch(/values past their limit \d+ → 0/);
    expect(shorter({ [idOf('Fan drive south')]: 6 })?.label).toMatch(/to [23]\d\d ms/);
    expect(shorter({})).withContext('what stand-ins take says nothing').toBeUndefined();
    expect(shorter({ [idOf('Steep controller')]: 61 }))
      .withContext('nor do devices elsewhere')
      .toBeUndefined();
  });

  it('counts how many requests a device answers at a time', () => {
    const slow = device(demo, 'Floor I/O block', { delayMs: 2400, timeoutMs: 10_000 });
    const busy = { ...slow, routes: slow.routes.map((route) => ({ ...route, maxAgeMs: null })) };
    const lane = forecast(busy, compile(busy).plan, healthy).lanes.find(({ name }) => name === 'Floor I/O block')!;
    expect([lane.concurrent, lane.load > 1 && lane.load < 2]).toEqual([4, true]);
    const labels = advise(busy, healthy, compiler()).map(({ label }) => label);
    expect(labels).toContain('Give all rounds of Floor I/O block 2.0 times as long');
  });

  it('is silent where nothing is to be gained', () => {
    const kept = { ...demo, routes: demo.routes.map((route) => ({ ...route, maxAgeMs: null })) };
    const labels = advise(kept, healthy, compiler()).map(({ label }) => label);
    expect(labels.filter((label) => label.startsWith('Shorten') || label.startsWith('Give'))).toEqual([]);
  });
});

const noRound = () => {
  throw new Error('No round is supposed.');
};

describe('what if', () => {
  it('is a change of the project, whatever is supposed of one device in one', () => {
    const [bus] = demo.lines.filter(({ name }) => name === 'Loft bus');
    const [meter, round] = [idOf('Plant meter'), demo.rounds[0]!];
    const what = {
      ...asItIs,
      slower: { [meter]: 4 },
      loss: { [meter]: 7 },
      timeout: { [meter]: 300 },
      baud: { [bus!.id]: 19_200 },
      period: { [round.id]: 750 },
    };
    const changed = applyChanges(demo, whatIfChanges(demo, what, noRound));
    expect(changed.devices.find(({ id }) => id === meter)).toEqual(
      jasmine.objectContaining({ delayMs: 20, lossPercent: 7, timeoutMs: 300 }),
    );
    expect(changed.lines.find(({ id }) => id === bus!.id)).toEqual(jasmine.objectContaining({ baud: 19_200 }));
    const rates = new Set(changed.ports.flatMap((port) => (port.kind === 'serial' && port.lineId === bus!.id ? port.baud : [])));
    expect(rates).toEqual(new Set([19_200]));
    expect(changed.rounds[0]!.periodMs).toBe(750);
    expect(whatIfChanges(demo, asItIs, noRound)).toEqual([]);
  });

  it('gives all that is read from a device a round of its own, on which no advice rests that is taken over alone', () => {
    const meter = idOf('Plant meter');
    const sources = new Set(demo.points.filter(({ deviceId }) => deviceId === meter).map(({ id }) => id));
    const changes = whatIfChanges(demo, { ...asItIs, own: { [meter]: 250 } }, (id) => `round of ${id}`);
    const changed = applyChanges(demo, changes);
    const added = changed.rounds.filter(({ id }) => !demo.rounds.some((round) => round.id === id));
    expect(added.map(({ name, periodMs }) => `${name} ${periodMs}`)).toEqual(['Plant meter 250']);
    const isMoved = new Set(changed.routes.filter(({ roundId }) => roundId === added[0]!.id).map(({ sourceId }) => sources.has(sourceId)));
    expect(isMoved).toEqual(new Set([true]));
    const periods = new Set(
      compile(changed).plan.requests.flatMap((row) => (row.deviceId === meter && row.kind === 'read' ? row.periodMs : [])),
    );
    expect(periods).toEqual(new Set([250]));
    expect(onProject(demo, [{ entity: 'round', id: added[0]!.id, before: added[0]!, after: { ...added[0]!, periodMs: 500 } }])).toEqual([]);
  });

  it('lets advice on what is supposed be taken over alone', () => {
    const [round, other] = demo.rounds;
    const supposed = applyChanges(demo, whatIfChanges(demo, { ...asItIs, period: { [round!.id]: 100 } }, noRound));
    const named = supposed.rounds.map((row) => ({
      entity: 'round' as const,
      id: row.id,
      before: row,
      after: { ...row, name: `${row.name}!` },
    }));
    const changed = applyChanges(demo, onProject(demo, named));
    expect(changed.rounds.map(({ name, periodMs }) => [name, periodMs])).toEqual(
      demo.rounds.map(({ name, periodMs }) => [`${name}!`, periodMs]),
    );
    expect(onProject(demo, [{ entity: 'round', id: 'gone', before: other!, after: other! }])).toEqual([]);
  });

  it('tells the share of each carrier on a line, and how long one can find it taken by the others', () => {
    const lanes = forecast(demo, plan, healthy).lanes;
    const bus = lanes.find(({ name }) => name === 'Kiln bus')!;
    expect(bus.carriers.map(({ carrierId }) => demo.devices.find(({ id }) => id === carrierId)!.name)).toEqual([
      'Kiln controller',
      'Steep controller',
    ]);
    expect(bus.carriers.reduce((sum, { load }) => sum + load, 0)).toBeCloseTo(bus.load, 9);
    const longest = (carrierId: string | null) =>
      Math.max(
        ...[
          ...durationsOf(
            demo,
            plan.requests.filter((row) => row.endpointId === bus.id && row.carrierId === carrierId),
          ).values(),
        ].map(({ answeredMs }) => answeredMs),
      );
    const [kiln, steep] = bus.carriers;
    expect(kiln!.waitsMs).toBeCloseTo(longest(steep!.carrierId), 9);
    expect(steep!.waitsMs).toBeCloseTo(longest(kiln!.carrierId), 9);
    const direct = lanes.find(({ name }) => name === 'Floor I/O block')!;
    expect(direct.carriers.map(({ waitsMs }) => waitsMs)).toEqual([0]);
  });

  it('makes a line less busy at twice the rate', () => {
    const [bus] = demo.lines.filter(({ name }) => name === 'Kiln bus');
    const faster = applyChanges(demo, whatIfChanges(demo, { ...asItIs, baud: { [bus!.id]: 38_400 } }, noRound));
    const load = (document: ProjectDocument) =>
      forecast(document, compile(document).plan, healthy).lanes.find(({ name }) => name === 'Kiln bus')!.load;
    expect(load(faster)).toBeLessThan(load(demo) * 0.75);
  });
});
