import { compile } from '@plain-envoy/core/compile';
import { mendedFernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import { type Diagnosis, diagnose } from '@plain-envoy/core/diagnose';
import { blankFaults, type Counters, type Fault, type FaultKind } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { Runner } from '@plain-envoy/engine/runner';
import { comesTrue } from './comes-true.spec-helper.js';
import { dialler } from './dial.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';

const PERIOD_MS = 250;
const WITHIN_MS = 12_000;

/** Asked quickly, and nobody is waited for long. */
function hasty(document: ProjectDocument): ProjectDocument {
  return {
    ...document,
    rounds: document.rounds.map((round) => ({ ...round, periodMs: PERIOD_MS })),
    routes: document.routes.filter(({ name }) => !/^(Grain|Loft|Floor \d|Plant (voltage|current)|Humidity|Spray)/.test(name)),
    devices: document.devices.map((device) => ({ ...device, timeoutMs: device.kind === 'gateway' ? 60 : 250, tries: 1 })),
  };
}

/** Where no gateway was bought: the Kiln bus is asked by an adapter of our own. */
function onOwnLine(document: ProjectDocument): ProjectDocument {
  const gateway = document.devices.find(({ name }) => name === 'Kiln gateway')!;
  const controller = document.devices.find(({ name }) => name === 'Kiln controller')!;
  const isOnBus = (id: string) => document.ports.some((port) => port.kind === 'serial' && port.deviceId === id && port.unitId);
  const points = new Map(document.points.map((point) => [point.id, point.deviceId]));
  return {
    ...document,
    devices: document.devices.filter(({ id }) => id !== gateway.id).map((row) => (isOnBus(row.id) ? { ...row, timeoutMs: 120 } : row)),
    ports: document.ports.flatMap((port) => {
      if (port.deviceId !== gateway.id) return [port];
      return port.kind === 'serial' ? [{ ...port, deviceId: controller.id }] : [];
    }),
    routes: document.routes.filter(({ sourceId, destinationId }) => [sourceId, destinationId].some((id) => isOnBus(points.get(id)!))),
  };
}

const some = (kind: 'lost' | 'damaged', percent: number): Fault => ({ kind, percent });
const busy: Fault = { kind: 'exception', code: 6, table: 'input', first: 0, last: 65_535 };
/** A fault, and which cause is the true one there. */
type Row = readonly [fault: Fault, cause: string];
const onEthernet: Row[] = [
  [blankFaults.silent, 'silent-server'],
  [{ kind: 'slow', ms: 60, spreadMs: 10 }, 'slow'],
  [some('lost', 50), 'lost'],
  [some('damaged', 100), 'all-damaged'],
  [some('damaged', 40), 'some-damaged'],
  [blankFaults['wrong unit'], 'wrong-unit'],
  [{ kind: 'late', ms: 400 }, 'late'],
  [blankFaults['cut short'], 'cut-short'],
  [blankFaults.twice, 'answers-twice'],
  [busy, 'exception-6'],
  [blankFaults['one at a time'], 'several-open'],
];
const onLine: Row[] = [
  [blankFaults.silent, 'absent'],
  [some('lost', 50), 'lost'],
  [some('damaged', 100), 'two-at-once'],
  [some('damaged', 40), 'noise'],
  [blankFaults['wrong unit'], 'wrong-unit'],
  [{ kind: 'late', ms: 200 }, 'late'],
  [blankFaults['cut short'], 'cut-short'],
  [blankFaults.twice, 'two-at-once'],
  [{ ...busy, table: 'holding' } as Fault, 'exception-6'],
];
const atGateway = onEthernet.filter(([{ kind }]) => !(['slow', 'exception', 'one at a time'] as FaultKind[]).includes(kind));

/** Who has the fault, who is asked, and on which plant. */
const places: [place: string, at: string, asked: string, document: ProjectDocument, rows: Row[]][] = [
  ['a device on Ethernet', 'Burner control', 'Burner control', hasty(mendedFernhollow()), onEthernet],
  ['a device behind a gateway', 'Exhaust damper', 'Exhaust damper', hasty(mendedFernhollow()), onLine],
  ['a gateway itself', 'Kiln gateway', 'Exhaust damper', hasty(mendedFernhollow()), atGateway],
  ['a device on a line of our own', 'Exhaust damper', 'Exhaust damper', onOwnLine(hasty(mendedFernhollow())), onLine],
];

/** What cannot be true of a place, whatever is wrong there. */
const falsehoods: Record<string, RegExp> = {
  'a device on Ethernet': /terminat|parity|baud|unplugged.*line|wire/i,
  'a gateway itself': /terminat|parity|baud|Exhaust damper (is off|hangs|takes longer)|the line itself is well/i,
};

interface Named {
  kind: FaultKind;
  expected: string;
  first: string;
  /** Whether any of its sentences cannot be true there. */
  isFalse: boolean;
}

/** Lets one fault after the other come and go, and tells which cause was named first for each. */
async function namedAt([place, at, asked, document, rows]: (typeof places)[number]): Promise<Named[]> {
  const { plan, findings } = compile(document);
  const port = await freePort('127.40.8.10');
  const plant = new Plant(wiringOf(document), port);
  await plant.start();
  const runner = new Runner(dialler(plant, port));
  const [devices, requests] = [new Map<string, Counters>(), new Map<string, Counters>()];
  const idOf = (name: string) => document.devices.find((row) => row.name === name)!.id;
  const own = (): Diagnosis | undefined => {
    const batch = runner.collect();
    for (const row of batch.devices) devices.set(row.id, structuredClone(row));
    for (const row of batch.requests) requests.set(row.id, structuredClone(row));
    return diagnose(document, plan, findings, {
      device: (id) => devices.get(id),
      request: (id) => requests.get(id),
      onLine: (id) => plant.member(id)?.late ?? null,
      heardOnLine: (id) => plant.member(id)?.heard ?? null,
    }).find(({ deviceId }) => deviceId === idOf(asked));
  };
  const isWell = () => own() === undefined && (devices.get(idOf(asked))?.answered ?? 0) > 4;
  runner.start(plan);
  const named: Named[] = [];
  try {
    if (!(await comesTrue(isWell, WITHIN_MS))) throw new Error(`${place} is not well at first.`);
    for (const [fault, expected] of rows) {
      plant.setFaults(idOf(at), [fault]);
      await comesTrue(() => own()?.causes[0]?.cause === expected, WITHIN_MS);
      const causes = own()?.causes ?? [];
      const isFalse = causes.some(({ sentence }) => falsehoods[place]?.test(sentence) ?? false);
      named.push({ kind: fault.kind, expected, first: causes[0]?.cause ?? 'nothing', isFalse });
      plant.setFaults(idOf(at), []);
      Object.assign(plant.member(idOf(asked))!, { heard: null, late: null });
      await comesTrue(isWell, WITHIN_MS);
    }
  } finally {
    runner.stop();
    await plant.stop();
  }
  return named;
}

describe('faults at every kind of place', () => {
  it('have their true cause named first in nine of ten, and none is said of which that cannot be', async () => {
    const named = (await Promise.all(places.map((place) => namedAt(place)))).flatMap((rows, index) =>
      rows.map((row) => ({ place: places[index]![0], ...row })),
    );
    const other = named.filter(({ expected, first }) => expected !== first);
    const told = other.map(({ place, kind, expected, first }) => `${kind} at ${place}: ${first} in place of ${expected}`);
    expect(other.length / named.length)
      .withContext(told.join('; '))
      .toBeLessThanOrEqual(0.1);
    expect(named.filter(({ isFalse }) => isFalse)).toEqual([]);
  }, 240_000);
});
