import { compile } from '@plain-envoy/core/compile';
import { mendedFernhollow } from '@plain-envoy/core/demo';
import { lostWhen, type LostWhen, type MeasuredLoss } from '@plain-envoy/core/handover';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { wiringOf } from '@plain-envoy/core/playing';
import { measureLosses, type MeasuringEvent } from '@plain-envoy/engine/prove';
import { Runner } from '@plain-envoy/engine/runner';
import { dialler } from './dial.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { handsOn, leftOn } from './hands-on.spec-helper.js';
import { Plant } from './index.js';

const REPLACED = 'Damper position';
const mended = mendedFernhollow();
/** Every round comes each two seconds, losses are noticed soon, and one value is replaced when its source is lost. */
const demo: ProjectDocument = {
  ...mended,
  rounds: mended.rounds.map((round) => ({ ...round, periodMs: 2000, priority: 1 })),
  routes: mended.routes.map((route) => {
    const loss = { ...route.loss, afterMs: 1900, stillMs: null };
    return { ...route, loss: route.name === REPLACED ? { ...loss, rule: 'value' as const, value: 12.5 } : loss };
  }),
};

/** One of each kind: a bus, a gateway, devices with each loss rule, far lines and far ends of each kind, and what is before them. */
const KINDS = [
  ...['Kiln bus', 'Loft gateway', 'Exhaust damper', 'Steep controller', 'Loft humidity bridge'],
  ...['Weigh indicator', 'Turner CAN', 'Grid station', 'Turner converter'],
];

/** What is measured on the running plant of a document, compared with what `reckoned` makes of it. */
async function measured(
  document: ProjectDocument,
  {
    reckoned = (losses) => losses,
    until = () => false,
  }: { reckoned?: (losses: LostWhen[]) => LostWhen[]; until?: (event: MeasuringEvent) => boolean },
): Promise<{ losses: LostWhen[]; found: Map<string, MeasuredLoss>; left: string[] }> {
  const port = await freePort('127.40.8.10');
  const plant = new Plant(wiringOf(document), port);
  await plant.start();
  const runner = new Runner(dialler(plant, port));
  const { plan } = compile(document);
  runner.start(plan);
  const losses = reckoned(lostWhen(document, plan));
  const found = new Map<string, MeasuredLoss>();
  for await (const event of measureLosses({ document, routes: plan.routes, losses }, handsOn(plant, document), { spareMs: 2500 })) {
    if (event.kind === 'measured') found.set(event.measured.failingId, event.measured);
    if (until(event)) break;
  }
  runner.stop();
  const left = leftOn(plant);
  await plant.stop();
  return { losses, found, left };
}

const named = (names: readonly string[]) => (losses: LostWhen[]) => losses.filter(({ failing }) => names.includes(failing.name));

describe('What is lost when something fails, measured on the stand-ins', () => {
  it('is as reckoned, value by value and within one period, and leaves everything as it was', async () => {
    const { losses, found, left } = await measured(demo, { reckoned: named(KINDS) });
    expect(losses.map(({ failing }) => failing.name).sort()).toEqual([...KINDS].sort());
    for (const { failing, lost } of losses) {
      const { values } = found.get(failing.id)!;
      const otherwise = values.filter(({ state }) => state === 'otherwise').map(({ sentence }) => sentence);
      expect(otherwise).withContext(failing.name).toEqual([]);
      expect(values.length).withContext(failing.name).toBe(lost.length);
      expect(values.filter(({ state }) => state === 'as reckoned').length)
        .withContext(failing.name)
        .toBeGreaterThan(lost.length / 2);
    }
    expect(left).toEqual([]);
  }, 240_000);

  it('is otherwise where it is not as reckoned, and says how', async () => {
    const route = demo.routes.find(({ name }) => name === REPLACED)!;
    const source = demo.points.find(({ id }) => id === route.sourceId)!;
    const spoiled = (losses: LostWhen[]) =>
      losses
        .filter(({ failing }) => failing.id === source.deviceId)
        .map((row) => ({
          ...row,
          lost: row.lost.map((one) => (one.routeId === route.id ? { ...one, fromMs: 20_000, toMs: 21_000 } : one)),
        }));
    const { found, left } = await measured(demo, { reckoned: spoiled });
    const value = [...found.values()][0]!.values.find(({ routeId }) => routeId === route.id)!;
    expect(value.state).toBe('otherwise');
    expect(value.sentence).toMatch(/^It became 12\.5 after [\d.]+ s; reckoned: after 20 to 21 s\.$/);
    expect(left).toEqual([]);
  }, 120_000);

  it('puts everything back where it is left in the middle', async () => {
    const { left } = await measured(demo, {
      reckoned: named(['Exhaust damper', 'Steep controller']),
      until: ({ kind }) => kind === 'measured',
    });
    expect(left).toEqual([]);
  }, 120_000);
});
