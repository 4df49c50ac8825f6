import { fernhollow, mendedFernhollow } from '@plain-envoy/core/demo';
import { wiringOf } from '@plain-envoy/core/playing';
import { type Diagnosis, diagnose } from '@plain-envoy/core/diagnose';
import type { Counters } from '@plain-envoy/core/feed';
import type { Device, Point, ProjectDocument, Route } from '@plain-envoy/core/model';
import { Runner } from '@plain-envoy/engine/runner';
import { dialler } from './dial.spec-helper.js';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';
import { compile } from '@plain-envoy/core/compile';
import { type EthernetPort, type SerialPort } from '@plain-envoy/core/media';

const whole = fernhollow();
const deviceNamed = (name: string) => whole.devices.find((device) => device.name === name)!;

type Change = (document: ProjectDocument) => ProjectDocument;
const serial =
  (device: string, fields: Partial<SerialPort>): Change =>
  (document) => ({
    ...document,
    ports: document.ports.map((port) =>
      port.kind === 'serial' && port.deviceId === deviceNamed(device).id ? ({ ...port, ...fields } satisfies SerialPort) : port,
    ),
  });
const ethernet =
  (device: string, fields: Partial<EthernetPort>): Change =>
  (document) => ({
    ...document,
    ports: document.ports.map((port) =>
      port.kind === 'ethernet' && port.deviceId === deviceNamed(device).id ? ({ ...port, ...fields } satisfies EthernetPort) : port,
    ),
  });
const point =
  (device: string, name: string, fields: Partial<Point>): Change =>
  (document) => ({
    ...document,
    points: document.points.map((row) => (row.deviceId === deviceNamed(device).id && row.name === name ? { ...row, ...fields } : row)),
  });
const route =
  (name: string, fields: (row: Route) => Partial<Route>): Change =>
  (document) => ({ ...document, routes: document.routes.map((row) => (row.name === name ? { ...row, ...fields(row) } : row)) });

/** The same, where it is believed besides that the meter lets itself be read across its holes. */
function across(change: Change): Change {
  return (document) => {
    const { devices, ...rest } = change(document);
    return { ...rest, devices: devices.map((device) => (device.name === 'Plant meter' ? { ...device, readAcrossHoles: true } : device)) };
  };
}

const demo = mendedFernhollow();
const usual = new Set(compile(demo).findings.map(({ message }) => message));

/** What is found about a project, beyond what is found about the demo anyway. */
function found(document: ProjectDocument): string[] {
  return compile(document).findings.flatMap(({ check, message }) => (usual.has(message) ? [] : [check]));
}

/** The meter refuses to be read across its holes, whatever the project says. */
function asItIs(document: ProjectDocument): ProjectDocument {
  const devices = document.devices.map((device) => (device.name === 'Plant meter' ? { ...device, readAcrossHoles: false } : device));
  return { ...document, devices };
}

/** What the bench diagnoses of a device once it has been asked for a while. */
async function diagnosed(document: ProjectDocument, device: Device): Promise<Diagnosis> {
  const port = await freePort('127.40.8.10');
  const plant = new Plant(wiringOf(asItIs(document)), port);
  await plant.start();
  const runner = new Runner(dialler(plant, port));
  const { plan, findings } = compile(document);
  const [devices, requests] = [new Map<string, Counters>(), new Map<string, Counters>()];
  runner.start(plan);
  try {
    for (let turn = 0; turn < 200; turn++) {
      await new Promise((done) => setTimeout(done, 50));
      const batch = runner.collect();
      for (const row of batch.devices) devices.set(row.id, row);
      for (const row of batch.requests) requests.set(row.id, row);
      const all = diagnose(document, plan, findings, { device: (id) => devices.get(id), request: (id) => requests.get(id) });
      const own = all.find(({ deviceId }) => deviceId === device.id);
      if (own && devices.get(device.id)!.recent.length > 4) return own;
    }
    throw new Error(`Nothing was diagnosed of ${device.name}.`);
  } finally {
    runner.stop();
    await plant.stop();
  }
}

describe('a set-up that is wrong by one change', () => {
  const byFinding: [what: string, change: Change, check: string][] = [
    ['another order', point('Plant meter', 'Active energy', { order: 'ABCD' }), 'order-differs'],
    ['another baud rate', serial('Exhaust damper', { baud: 9600 }), 'settings-differ'],
    ['another parity', serial('Exhaust damper', { parity: 'odd' }), 'settings-differ'],
    ['the unit ID of another', serial('Exhaust damper', { unitId: 21 }), 'unit-twice'],
    ['an address outside the mask', ethernet('Burner control', { ip: '10.40.9.21' }), 'outside-network'],
    [
      'the direction reversed',
      route('Air-on temperature', ({ sourceId, destinationId }) => ({ sourceId: destinationId, destinationId: sourceId })),
      'read-only-table',
    ],
    ['a scale twice', route('Plant power', () => ({ transforms: [{ kind: 'scale', factor: 0.1, offset: 0 }] })), 'scaled-twice'],
    ['two writers', (document) => ({ ...document, routes: whole.routes }), 'two-writers'],
    [
      'no release',
      (document) => ({ ...document, routes: document.routes.filter(({ name }) => name !== 'Burner release') }),
      'never-released',
    ],
    ['a watchdog that is too short', point('Kiln controller', 'Steep heartbeat', { watchdogMs: 500 }), 'watchdog-short'],
    ['too few connections', ethernet('Kiln gateway', { connections: 1, otherClients: 2 }), 'connections'],
    ['a gateway that does not know the unit', serial('Kiln gateway', { forwardedUnits: [{ first: 11, last: 31 }] }), 'unit-not-forwarded'],
  ];
  for (const [what, change, check] of byFinding) {
    it(`with ${what} is found before it runs`, () => expect(found(change(demo))).toContain(check));
  }

  const byDiagnosis: [what: string, change: Change, device: string, cause: string, says: RegExp][] = [
    [
      'a map shifted by one',
      point('Floor I/O block', 'Doors and sprays', { offset: 88 }),
      'Floor I/O block',
      'exception-2',
      /count from 1/,
    ],
    [
      'another function code',
      point('Air-on transmitter', 'Air-on temperature', { table: 'holding' }),
      'Air-on transmitter',
      'wrong-table',
      /function 3/,
    ],
    [
      'a request across a hole',
      across(point('Plant meter', 'Exported energy', { offset: 8124 })),
      'Plant meter',
      'exception-2',
      /hole is crossed/,
    ],
  ];
  for (const [what, change, device, cause, says] of byDiagnosis) {
    it(`with ${what} is diagnosed first, with its evidence`, async () => {
      const { causes } = await diagnosed(change(demo), deviceNamed(device));
      expect(causes[0]?.cause).toBe(cause);
      expect(`${causes[0]?.sentence} ${causes[0]?.evidence}`).toMatch(says);
    }, 30_000);
  }
});
