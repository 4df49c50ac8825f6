import { fernhollow, mendedFernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import type { Reading } from '@plain-envoy/core/feed';
import { type Device, type DeviceTelegram, type Point, type ProjectDocument, type Route } from '@plain-envoy/core/model';
import type { RouteProof } from '@plain-envoy/core/proof';
import { proveByHand, proveRoutes, type ProvingEvent } from '@plain-envoy/engine/prove';
import { leftToPrograms } from '@plain-envoy/core/controller-program';
import { controllersOf } from '@plain-envoy/core/handover';
import { CarrierRun } from '@plain-envoy/engine/programs';
import { Runner } from '@plain-envoy/engine/runner';
import { comesTrue } from './comes-true.spec-helper.js';
import { dialler } from './dial.spec-helper.js';
import { handsOn, leftOn } from './hands-on.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';
import { compile, compileWatch } from '@plain-envoy/core/compile';

const whole = fernhollow();
const deviceNamed = (name: string) => whole.devices.find((device) => device.name === name)!;
const pointOf = (device: string, name: string) =>
  whole.points.find((point) => point.deviceId === deviceNamed(device).id && point.name === name)!;

/**
 * Without what is wrong with it on purpose. Every round comes each second, none before another, so that on a slow machine all
 * come later and none is left out; losses are noticed soon.
 */
const mended = mendedFernhollow();
const demo: ProjectDocument = {
  ...mended,
  rounds: mended.rounds.map((round) => ({ ...round, periodMs: 1000, priority: 1 })),
  routes: mended.routes.map((route) => ({ ...route, loss: { ...route.loss, afterMs: 900, stillMs: null } })),
};

const ALL_ARRIVE_MS = 8000;

interface Stopping {
  /** The proof is not listened to any more after such an event. */
  until?: (event: ProvingEvent) => boolean;
  /** It is told to stop, so long after the first event of it. */
  afterMs?: number;
  /** What a stand-in has done is known so much later. */
  lateMs?: number;
  /** What controllers carry goes through their own programs. */
  byPrograms?: boolean;
  /** How long a value may be under way beyond two rounds: on a busy machine long, where all are to arrive anyway. */
  spareMs?: number;
}

async function prove(
  document: ProjectDocument,
  withLoss: boolean,
  { until = () => false, afterMs, lateMs = 0, byPrograms = false, spareMs = 2500 }: Stopping = {},
) {
  const port = await freePort('127.40.8.10');
  const plant = new Plant(wiringOf(document), port);
  await plant.start();
  const runner = new Runner(dialler(plant, port));
  const reasons = new Map<string, string | null>();
  const collecting = setInterval(() => {
    for (const { routeId, reason, quality } of runner.collect().routes) reasons.set(routeId, quality === 'good' ? null : reason);
  }, 100);
  const hands = handsOn(plant, document, { lateMs, reason: (routeId) => reasons.get(routeId) ?? null });
  const { plan } = compile(document);
  const way = {
    read: (read: Parameters<Runner['readByHand']>[0]) => runner.readByHand(read),
    write: (write: Parameters<Runner['writeByHand']>[0], words: readonly number[]) => runner.writeByHand(write, words),
    close: () => undefined,
  };
  const runs = byPrograms
    ? controllersOf(document).map((one) => new CarrierRun(document, plan, one, way, { portable: false, scanMs: 10 }))
    : [];
  const carrying = runs.filter(({ problem }) => problem === null);
  const carriers = new Set(carrying.map(({ prepared }) => prepared.made!.controller.id));
  runner.start(leftToPrograms(plan, carriers));
  await Promise.all(carrying.map((run) => run.start()));
  const routes = byPrograms ? plan.routes.filter(({ carrierId }) => carriers.has(carrierId ?? '')) : plan.routes;
  const proofs = new Map<string, RouteProof>();
  const nameOf = new Map(document.routes.map(({ id, name }) => [id, name]));
  const stop = new AbortController();
  let stopping: NodeJS.Timeout | undefined;
  for await (const event of proveRoutes(routes, hands, {
    // A controller that is cut off says nothing any more, also not that its own values are lost.
    withLoss: byPrograms ? ({ source, carrierId }) => withLoss && source.deviceId !== carrierId : withLoss,
    spareMs,
    signal: stop.signal,
  })) {
    if (afterMs !== undefined) stopping ??= setTimeout(() => stop.abort(), afterMs);
    if (event.kind === 'proof') proofs.set(nameOf.get(event.proof.routeId)!, event.proof);
    if (until(event)) break;
  }
  clearTimeout(stopping);
  clearInterval(collecting);
  const ended = carrying.map(({ problem, scans, asked }) => ({ problem, scans, asked }));
  for (const run of carrying) run.stop();
  runner.stop();
  const left = leftOn(plant);
  await plant.stop();
  return { proofs, left, ended };
}

const point = (changed: Point, fields: Partial<Point>) => (document: ProjectDocument) => ({
  ...document,
  points: document.points.map((row) => (row.id === changed.id ? { ...row, ...fields } : row)),
});
const route = (name: string, fields: Partial<Route>) => (document: ProjectDocument) => ({
  ...document,
  routes: document.routes.map((row) => (row.name === name ? { ...row, ...fields } : row)),
});

/** One change each, the routes that it spoils, and what the proof says of them. */
const wrong: [change: (document: ProjectDocument) => ProjectDocument, routes: string[], says: RegExp][] = [
  [
    point(pointOf('Air-on transmitter', 'Air-on temperature'), { order: 'ABCD' }),
    ['Air-on temperature'],
    /map has order ABCD .* papers say CDAB/,
  ],
  [
    point(pointOf('Steep controller', 'Steep water temperature'), { offset: 103 }),
    ['Steep water temperature'],
    /offset 103 .* papers say 102/,
  ],
  [point(pointOf('Burner control', 'Flue temperature'), { table: 'holding', offset: 9 }), ['Flue temperature'], /holding registers/],
  [route('Plant power', { transforms: [{ kind: 'scale', factor: 0.1, offset: 0 }] }), ['Plant power'], /0\.1 times as much/],
  [point(pointOf('Kiln controller', 'Batch is ready'), { offset: 14 }), ['Batch ready'], /offset 14 .* papers say 10/],
  [point(pointOf('Steep controller', 'Kiln state'), { offset: 125 }), ['Kiln state'], /offset 125 .* papers say 120/],
  [
    route('Transmitter serial number', { carry: 'value', transforms: [{ kind: 'swap', what: 'words' }] }),
    ['Transmitter serial number'],
    /words swapped/,
  ],
  [
    (document) => route('Damper position', { carry: 'value' })(point(pointOf('Exhaust damper', 'Position'), { scale: null })(document)),
    ['Damper position'],
    /no scale .* papers say value = raw × 0\.1/,
  ],
  [
    (document) => {
      const second = { ...whole.routes.find(({ name }) => name === 'Damper for the steeps')!, roundId: demo.rounds[0]!.id };
      return { ...document, routes: [...document.routes, second] };
    },
    ['Damper set point', 'Damper for the steeps'],
    /replace/,
  ],
  [point(pointOf('Plant meter', 'Active energy'), { type: 'int32' }), ['Plant energy'], /type int32 .* papers say uint32/],
];

describe('a proof of the demo on its stand-ins', () => {
  it('proves every route, with its loss rule, and leaves everything as it was', async () => {
    const { proofs, left } = await prove(demo, true, { spareMs: ALL_ARRIVE_MS });
    const not = [...proofs].filter(([, { state }]) => state !== 'proved').map(([name, { sentence }]) => `${name}: ${sentence}`);
    expect(not).toEqual([]);
    expect(proofs.size).toBe(demo.routes.length);
    expect(left).toEqual([]);
    expect(proofs.get('Steep heartbeat')!.sentence).toContain('went off');
    const echoes = [...proofs.values()].flatMap(({ echo }) => echo ?? []);
    expect(echoes.map(({ ok }) => ok)).toContain(true);
    expect(echoes[0]!.sentence).toMatch(/^1234 went out by .* and back by .* as 1235 after \d+ ms\.$/);
  }, 120_000);

  it('proves by their own programs what controllers carry, with loss rules', async () => {
    const { proofs, left, ended } = await prove(demo, true, { byPrograms: true, spareMs: ALL_ARRIVE_MS });
    const not = [...proofs].filter(([, { state }]) => state !== 'proved').map(([name, { sentence }]) => `${name}: ${sentence}`);
    expect(not).toEqual([]);
    const carried = demo.routes.filter(({ carrierId }) => carrierId !== null && controllersOf(demo).some(({ id }) => id === carrierId));
    expect(proofs.size).toBe(carried.length);
    expect(left).toEqual([]);
    expect(ended.map(({ problem }) => problem)).toEqual(ended.map(() => null));
    expect(ended.every(({ scans, asked }) => scans > 100 && asked > 10)).toBeTrue();
  }, 120_000);

  it('fails exactly where one of ten things is wrong', async () => {
    const spoiled = wrong.reduce((document, [change]) => change(document), demo);
    const { proofs } = await prove(spoiled, false);
    const failed = [...proofs].filter(([, { state }]) => state !== 'proved').map(([name]) => name);
    expect(failed.sort()).toEqual(wrong.flatMap(([, routes]) => routes).sort());
    for (const [, routes, says] of wrong) for (const name of routes) expect(proofs.get(name)!.sentence).withContext(name).toMatch(says);
  }, 120_000);

  it('has a number come back with one added across a converter, as texts out and back', async () => {
    const id = (last: number) => `019aa999-0000-7000-8000-00000000000${last}`;
    const indicator = deviceNamed('Weigh indicator');
    const weighing = demo.telegrams.find(({ name }) => name === 'Weighing')!;
    const tare: DeviceTelegram = {
      ...{ ...weighing, id: id(1), name: 'Tare', direction: 'taken', when: { on: 'change', atLeastMs: null }, samples: '' },
      telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: 'tare', at: { separator: ';', number: 0 }, kind: 'integer' }] },
    };
    const gross = pointOf('Weigh indicator', 'Gross weight');
    const taken: Point = {
      ...{ ...gross, id: id(2), name: 'Tare', offset: 0, access: 'write', table: 'holding', unit: '', type: 'uint16' },
      place: { kind: 'field', telegramId: tare.id, field: 'tare', pinned: false },
    };
    const wanted = pointOf('Kiln controller', 'Batch sample number');
    const back = demo.routes.find(({ name }) => name === 'Gross weight')!;
    const out: Route = { ...back, id: id(3), name: 'Tare', sourceId: wanted.id, destinationId: taken.id };
    const lineOf = (name: string) => demo.lines.find((line) => line.name === name)!.id;
    const withOutputs = (image: NonNullable<Device['image']>): Device['image'] => ({
      ...image,
      bytes: 96,
      windows: [
        ...image.windows,
        { lineId: lineOf('Process net'), use: 'writes', table: 'holding', offset: 0, byte: 80, bytes: 16, order: 'high-first' },
        { lineId: lineOf('Weighbridge cable'), use: 'reads', byte: 80, bytes: 16, order: 'high-first' },
      ],
    });
    const { proofs } = await prove(
      {
        ...demo,
        // Played by what its telegrams say, and not by a program that sends its own weights.
        devices: demo.devices.map((device) =>
          device.id === indicator.id
            ? { ...device, program: '' }
            : device.name === 'Text port'
              ? { ...device, image: withOutputs(device.image!) }
              : device,
        ),
        telegrams: [...demo.telegrams, tare],
        points: [...demo.points, taken],
        routes: [out, back],
      },
      false,
    );
    const { sentence, echo } = proofs.get('Tare')!;
    expect(sentence).toMatch(/1234 went out by Tare and back by Gross weight as 1235 after \d+ ms\.$/);
    expect(echo?.ok).toBeTrue();
  }, 60_000);

  it('leaves everything as it was when it is stopped in the middle', async () => {
    const { left } = await prove(demo, true, { until: ({ kind }) => kind === 'progress', lateMs: 150 });
    expect(left).toEqual([]);
  }, 60_000);

  it('is stopped at once by whoever listens to it, with nothing proved and nothing left', async () => {
    const { left, proofs } = await prove(demo, true, { afterMs: 700, lateMs: 150 });
    expect([left, proofs.size]).toEqual([[], 0]);
  }, 20_000);
});

describe('a proof by hand', () => {
  it('reads over the wire what a person moves, and writes nothing for it', async () => {
    const port = await freePort('127.40.8.10');
    const plant = new Plant(wiringOf(demo), port);
    await plant.start();
    const runner = new Runner(dialler(plant, port));
    const { plan } = compile(demo);
    const readings = new Map<string, Reading>();
    const take = () => {
      for (const row of runner.collect().readings) readings.set(row.pointId, row);
    };
    const collecting = setInterval(take, 50);
    runner.start(plan);
    const [moved, stays, skipped] = ['Flue temperature', 'Humidity limit', 'Steep water temperature'].map((name) =>
      plan.routes.find((row) => row.name === name)!,
    );
    const routes = [moved!, stays!, skipped!];
    runner.watch(compileWatch(demo, plan, new Set(routes.map(({ destination }) => destination.id))));
    const told: string[] = [];
    const eyes = {
      reading: (id: string) => readings.get(id),
      reason: () => null,
      skips: (id: string) => id === skipped!.id,
    };
    try {
      const areRead = () => routes.every((row) => [row.source, row.destination].every(({ id }) => readings.get(id)?.words));
      await comesTrue(areRead, 15_000);
      for await (const event of proveByHand(routes, eyes, { moveMs: 2500, spareMs: 10_000 })) {
        if (event.kind === 'ask' && event.routeId === moved!.id) {
          const { deviceId, table, offset } = moved!.source;
          plant.member(deviceId)!.standIn!.bank.hold(table as 'input', offset, [4321]);
        }
        if (event.kind === 'proof') told.push(`${event.proof.state}: ${event.proof.sentence}`);
      }
    } finally {
      clearInterval(collecting);
      runner.stop();
      await plant.stop();
    }
    expect(told).toEqual([
      jasmine.stringMatching(/^carried: It was moved to .* by hand, which arrived after \d+ ms\./) as never,
      jasmine.stringMatching(/^not proved: .* did not move while it was waited for\.$/) as never,
    ]);
  }, 60_000);
});
