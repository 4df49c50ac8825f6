import '../formula/index.js';
import { compiler } from '../compile/index.js';
import { mendedFernhollow } from '../demo/index.js';
import { doubtsOf } from '../doubt/index.js';
import { causesFirst, type Finding, findingKey } from '../findings/index.js';
import type { Line, Port, SerialLine } from '../media/index.js';
import { applyChanges, type Device, type Point, type ProjectDocument, type Route } from '../model/index.js';
import { paperOf } from '../papers/index.js';
import type { PlannedRoute } from '../plan/index.js';
import { arrivesByPapers, unlikePapers } from '../proof/index.js';
import { SmallProject } from '../testing/index.js';
import { tryMend } from './index.js';

type Document = ProjectDocument;
type Edit = (document: Document) => Document;

/** One mistake, and what names it: a finding by its check, which must come first, or what the papers say in a proof. */
interface Mistake {
  what: string;
  edit: Edit;
  finding?: string;
  proof?: RegExp;
}

const byName = <T extends { name: string }>(rows: readonly T[], name: string): T => {
  const found = rows.find((row) => row.name === name);
  if (!found) throw new Error(`There is no ${name}.`);
  return found;
};
const deviceOf = (document: Document, name: string) => byName(document.devices, name).id;
const change = <K extends 'points' | 'routes' | 'devices' | 'lines' | 'ports'>(
  list: K,
  which: (row: Document[K][number], document: Document) => boolean,
  fields: object | ((row: never) => object),
): Edit => {
  return (document) => {
    let count = 0;
    const rows = (document[list] as { id: string }[]).map((row) => {
      if (!which(row as never, document)) return row;
      count += 1;
      return { ...row, ...(typeof fields === 'function' ? fields(row as never) : fields) };
    });
    if (count === 0) throw new Error('The mistake changes nothing.');
    return { ...document, [list]: rows };
  };
};
const point = (device: string, name: string, fields: Partial<Point> | ((row: Point) => Partial<Point>)) =>
  change('points', (row, document) => row.name === name && row.deviceId === deviceOf(document, device), fields);
const pointsOf = (device: string, fields: Partial<Point> | ((row: Point) => Partial<Point>)) =>
  change('points', (row, document) => row.deviceId === deviceOf(document, device), fields);
const route = (name: string, fields: Partial<Route> | ((row: Route) => Partial<Route>)) =>
  change('routes', (row) => row.name === name, fields);
const device = (name: string, fields: Partial<Device>) => change('devices', (row) => row.name === name, fields);
const line = (name: string, fields: object) => change('lines', (row) => row.name === name, fields);
const port = (of: string, kind: Port['kind'], fields: object) =>
  change('ports', (row, document) => row.kind === kind && row.deviceId === deviceOf(document, of), fields);
const all =
  (...edits: Edit[]): Edit =>
  (document) =>
    edits.reduce((now, edit) => edit(now), document);
const pointId = (document: Document, of: string, name: string) =>
  document.points.find((row) => row.name === name && row.deviceId === deviceOf(document, of))!.id;
const rerouted =
  (name: string, ends: { from?: [string, string]; to?: [string, string] }): Edit =>
  (document) =>
    route(name, {
      ...(ends.from ? { sourceId: pointId(document, ...ends.from) } : {}),
      ...(ends.to ? { destinationId: pointId(document, ...ends.to) } : {}),
    })(document);
const turned = (name: string) => route(name, ({ sourceId, destinationId }) => ({ sourceId: destinationId, destinationId: sourceId }));
const second =
  (name: string, fields: Partial<Route>): Edit =>
  (document) => ({
    ...document,
    routes: [...document.routes, { ...byName(document.routes, name), id: document.rounds[0]!.id, name: `${name} once more`, ...fields }],
  });

/** On the demo without its own mistakes, whose devices have papers. */
const onDemo: Mistake[] = [
  // registers and their places
  {
    what: 'offset one too high',
    edit: point('Air-on transmitter', 'Air-on temperature', ({ offset }) => ({ offset: offset + 1 })),
    proof: /papers say/,
  },
  {
    what: 'offset one too low',
    edit: point('Steep controller', 'Steep water temperature', { offset: 101 }),
    proof: /offset 101 .* papers say 102/,
  },
  { what: 'a digit swapped', edit: point('Plant meter', 'Active energy', { offset: 8210 }), proof: /offset 8210 .* papers say 8120/ },
  {
    what: 'one register beside the routes like it',
    edit: point('Kiln controller', 'Grain 3 temperature', ({ offset }) => ({ offset: offset + 1 })),
    proof: /papers say/,
  },
  {
    what: 'a one-based table read as zero-based',
    edit: pointsOf('Burner control', ({ offset }) => ({ offset: offset + 1 })),
    proof: /papers say/,
  },
  { what: 'the wrong table', edit: point('Burner control', 'Flue temperature', { table: 'holding', offset: 1 }), finding: 'same-register' },
  {
    what: 'bit 3 for bit 2',
    edit: route('Fan north runs', { transforms: [{ kind: 'extract', at: 3, count: 1 }] }),
    finding: 'bit-named-otherwise',
  },
  {
    what: 'bit 0 for bit 1',
    edit: route('Burner burns', { transforms: [{ kind: 'extract', at: 0, count: 1 }] }),
    finding: 'bit-named-otherwise',
  },
  { what: 'the neighbour’s bit', edit: point('Kiln controller', 'Fan north runs', { offset: 41 }), finding: 'two-writers' },
  {
    what: 'writing an input register',
    edit: rerouted('Fan north set point', { to: ['Fan drive north', 'Actual speed'] }),
    finding: 'read-only-table',
  },
  {
    what: 'writing a discrete input',
    edit: rerouted('Damper open', { to: ['Exhaust damper', 'End position open'] }),
    finding: 'same-point',
  },
  {
    what: 'a register that the device refuses',
    edit: point('Plant meter', 'Frequency', { offset: 7400 }),
    finding: 'cannot-carry',
  },
  // types, orders, scales
  {
    what: 'words swapped',
    edit: point('Air-on transmitter', 'Air-on temperature', { order: 'ABCD' }),
    proof: /order ABCD .* papers say CDAB/,
  },
  { what: 'bytes swapped', edit: point('Plant meter', 'Active energy', { order: 'ABCD' }), finding: 'order-differs' },
  { what: 'signed for unsigned', edit: point('Plant meter', 'Active energy', { type: 'int32' }), proof: /type int32 .* papers say uint32/ },
  { what: 'unsigned for signed', edit: point('Burner control', 'Flue temperature', { type: 'uint16' }), finding: 'type-differs' },
  {
    what: 'unsigned for signed at both ends',
    edit: all(
      point('Steep controller', 'Steep water temperature', { type: 'uint16' }),
      point('Kiln controller', 'Steep water temperature', { type: 'uint16' }),
    ),
    proof: /type uint16 .* papers say int16/,
  },
  {
    what: 'a float read as a whole number',
    edit: point('Air-on transmitter', 'Air-on temperature', { type: 'uint32' }),
    proof: /type uint32 .* papers say float32/,
  },
  { what: 'scale forgotten at the source', edit: point('Exhaust damper', 'Position', { scale: null }), finding: 'scale-differs' },
  {
    what: 'scale forgotten at the destination',
    edit: point('Kiln controller', 'Damper position', { scale: null }),
    finding: 'scale-differs',
  },
  {
    what: 'scale wrong at both ends',
    edit: all(
      point('Exhaust damper', 'Position', { scale: { factor: 0.01, offset: 0 } }),
      point('Kiln controller', 'Damper position', { scale: { factor: 0.01, offset: 0 } }),
    ),
    proof: /value = raw × 0\.01 .* papers say value = raw × 0\.1/,
  },
  {
    what: 'scale applied twice by a step',
    edit: route('Plant power', { transforms: [{ kind: 'scale', factor: 0.1, offset: 0 }] }),
    finding: 'scaled-twice',
  },
  {
    what: 'scale applied twice by a formula',
    edit: route('Plant frequency', { carry: 'value', transforms: [{ kind: 'arithmetic', expression: 'x * 0.1' }] }),
    finding: 'scaled-twice',
  },
  {
    what: 'ten times by a formula',
    edit: route('Steep water temperature', { carry: 'value', transforms: [{ kind: 'arithmetic', expression: '10 * x' }] }),
    finding: 'scaled-twice',
  },
  {
    what: 'scale forgotten where a value crosses',
    edit: point('Plant meter', 'Active power', { scale: { factor: 0.001, offset: 0 } }),
    proof: /papers say/,
  },
  {
    what: 'words swapped by a step that is not needed',
    edit: route('Transmitter serial number', { carry: 'value', transforms: [{ kind: 'swap', what: 'words' }] }),
    proof: /another value/,
  },
  { what: 'another unit', edit: point('Exhaust damper', 'Position', { unit: 'mm' }), proof: /unit mm .* papers say %/ },
  {
    what: 'a wide counter into one register',
    edit: all(point('Kiln controller', 'Plant energy', { type: 'uint16' })),
    finding: 'overflow',
  },
  {
    what: 'a formula that divides by zero',
    edit: route('Plant power', { transforms: [{ kind: 'arithmetic', expression: 'x / (3 - 3)' }] }),
    finding: 'no-result',
  },
  {
    what: 'two registers copied into one',
    edit: point('Kiln controller', 'Transmitter serial number', { type: 'uint16' }),
    finding: 'width',
  },
  // directions and writers
  { what: 'a measured value the wrong way round', edit: turned('Fan north speed'), finding: 'read-only-table' },
  { what: 'a set point the wrong way round', edit: turned('Fan north set point'), finding: 'set-point-backwards' },
  { what: 'a command the wrong way round', edit: turned('Burner command'), finding: 'set-point-backwards' },
  {
    what: 'two writers',
    edit: (document) => second('Damper set point', { sourceId: pointId(document, 'Steep controller', 'Damper wish') })(document),
    finding: 'two-writers',
  },
  {
    what: 'a loop of copies',
    edit: (document) =>
      second('Batch number', {
        sourceId: byName(document.routes, 'Batch number').destinationId,
        destinationId: byName(document.routes, 'Batch number').sourceId,
      })(document),
    finding: 'loop',
  },
  {
    what: 'two points on one register',
    edit: point('Kiln controller', 'Damper position', { offset: 40, type: 'uint16' }),
    finding: 'same-register',
  },
  {
    what: 'the release never set',
    edit: all((document) => ({ ...document, routes: document.routes.filter(({ name }) => name !== 'Burner release') })),
    finding: 'never-released',
  },
  {
    what: 'a release that the map does not know',
    edit: point('Burner control', 'Command word', { releasedBy: null }),
    finding: 'release-in-papers',
  },
  { what: 'a command that holds where nothing trips', edit: device('Burner control', { writeTimeoutMs: null }), finding: 'holds-on-loss' },
  {
    what: 'a heartbeat whose watchdog is too short',
    edit: point('Kiln controller', 'Steep heartbeat', { watchdogMs: 600 }),
    finding: 'watchdog-short',
  },
  {
    what: 'written more rarely than the device waits',
    edit: (document) =>
      change('routes', ({ name }) => name.startsWith('Burner '), { roundId: byName(document.rounds, 'Every ten seconds').id })(document),
    finding: 'written-too-seldom',
  },
  // serial lines and cables
  { what: 'another parity', edit: port('Fan drive south', 'serial', { parity: 'none' }), finding: 'settings-differ' },
  { what: 'another baud rate', edit: port('Plant meter', 'serial', { baud: 9600 }), finding: 'settings-differ' },
  { what: 'one unit ID twice', edit: port('Grain cable 6', 'serial', { unitId: 5 }), finding: 'unit-twice' },
  { what: 'unit 248', edit: port('Exhaust damper', 'serial', { unitId: 248 }), finding: 'unit-range' },
  {
    what: 'no termination',
    edit: change('ports', (row, document) => row.kind === 'serial' && row.lineId === byName(document.lines, 'Kiln bus').id, {
      terminated: false,
    }),
    finding: 'termination-none',
  },
  { what: 'terminated three times', edit: port('Air-on transmitter', 'serial', { terminated: true }), finding: 'termination-many' },
  {
    what: 'shield grounded at many places',
    edit: change('ports', (row, document) => row.kind === 'serial' && row.lineId === byName(document.lines, 'Kiln bus').id, {
      shield: 'grounded',
    }),
    finding: 'shield-many',
  },
  {
    what: 'no reference conductor',
    edit: change(
      'lines',
      (row) => row.name === 'Kiln bus',
      ({ cable }: SerialLine) => ({ cable: { ...cable, reference: false } }),
    ),
    finding: 'reference-none',
  },
  { what: 'a line too long for its rate', edit: line('Kiln bus', { lengthM: 1500 }), finding: 'line-length' },
  {
    what: 'seven bits for RTU',
    edit: all(
      line('Kiln bus', { dataBits: 7 }),
      change('ports', (row, document) => row.kind === 'serial' && row.lineId === byName(document.lines, 'Kiln bus').id, { dataBits: 7 }),
    ),
    finding: 'rtu-seven-bits',
  },
  {
    what: 'nobody asks on a line',
    edit: (document) => ({
      ...document,
      ports: document.ports.filter(
        (row) => !(row.kind === 'serial' && row.unitId === null && row.deviceId === deviceOf(document, 'Loft gateway')),
      ),
    }),
    finding: 'only-waiting',
  },
  // networks and times
  { what: 'an address outside the network', edit: port('Burner control', 'ethernet', { ip: '10.41.8.21' }), finding: 'outside-network' },
  { what: 'one address twice', edit: port('Burner control', 'ethernet', { ip: '10.40.8.22' }), finding: 'address-twice' },
  { what: 'another mask', edit: port('Burner control', 'ethernet', { mask: '255.255.0.0' }), finding: 'masks-differ' },
  { what: 'the broadcast address', edit: port('Burner control', 'ethernet', { ip: '10.40.8.255' }), finding: 'broadcast-address' },
  { what: 'another TCP port', edit: port('Burner control', 'ethernet', { tcpPort: 503 }), finding: 'port-unusual' },
  { what: 'more clients than it takes', edit: port('Yard display', 'ethernet', { otherClients: 3 }), finding: 'connections' },
  { what: 'a timeout below the delay', edit: device('Burner control', { delayMs: 300, timeoutMs: 250 }), finding: 'timeout-below-delay' },
  { what: 'a gateway that outwaits its client', edit: device('Kiln gateway', { timeoutMs: 1500 }), finding: 'gateway-outwaits' },
  {
    what: 'polled faster than the line carries',
    edit: (document) => ({ ...document, rounds: document.rounds.map((row) => (row.periodMs === 10_000 ? { ...row, periodMs: 50 } : row)) }),
    finding: 'line-full',
  },
];

/** A small plant of which nothing but its own maps is known. */
function filling(): Document {
  const small = new SmallProject();
  const net = small.net('Hall net', { network: '192.168.7.0/24' });
  const bus = small.bus('Filler bus', { lengthM: 60 });
  const control = small.controller('Filler control', net);
  const gateway = small.gateway('Filler gateway', net, bus);
  const pump = small.device('Dosing pump');
  const scale = small.device('Tank scale');
  small.port(pump, bus, { unitId: 7 });
  small.port(scale, bus, { unitId: 8 });
  const round = small.round(1000);
  const here = (name: string, offset: number, fields: Partial<Point> = {}) => small.point(control, name, { offset, ...fields });
  const tenths = { scale: { factor: 0.1, offset: 0 } };
  const flow = small.point(pump, 'Flow', { table: 'input', offset: 0, unit: 'l/min', access: 'read', ...tenths });
  const pressure = small.point(pump, 'Pressure', { table: 'input', offset: 1, unit: 'bar', access: 'read', ...tenths });
  const speed = small.point(pump, 'Speed', { table: 'input', offset: 2, unit: 'Hz', access: 'read', ...tenths });
  const torque = small.point(pump, 'Torque', { table: 'input', offset: 5, unit: 'Nm', access: 'read', ...tenths });
  const dose = small.point(pump, 'Dose set point', { offset: 10, unit: 'l/min', ...tenths });
  const weight = small.point(scale, 'Weight', { type: 'uint32', order: 'ABCD', offset: 0, unit: 'kg', access: 'read' });
  const tare = small.point(scale, 'Tare', { type: 'uint32', order: 'ABCD', offset: 2, unit: 'kg', access: 'read' });
  const gross = small.point(scale, 'Gross', { type: 'uint32', order: 'ABCD', offset: 4, unit: 'kg', access: 'read' });
  const ends: [Point, Point][] = [
    [flow, here('Pump flow', 100, { unit: 'l/min', ...tenths })],
    [pressure, here('Pump pressure', 101, { unit: 'bar', ...tenths })],
    [speed, here('Pump speed', 102, { unit: 'Hz', ...tenths })],
    [torque, here('Pump torque', 105, { unit: 'Nm', ...tenths })],
    [here('Wanted dose set point', 120, { unit: 'l/min', ...tenths }), dose],
    [weight, here('Tank weight', 140, { type: 'uint32', order: 'ABCD', unit: 'kg' })],
    [tare, here('Tank tare', 142, { type: 'uint32', order: 'ABCD', unit: 'kg' })],
    [gross, here('Tank gross', 144, { type: 'uint32', order: 'ABCD', unit: 'kg' })],
  ];
  for (const [source, destination] of ends) small.route(source, destination, round);
  void gateway;
  return small.document;
}

const onOther: Mistake[] = [
  { what: 'one end off by one', edit: point('Dosing pump', 'Torque', { offset: 6 }), finding: 'place-unlike-others' },
  { what: 'the order of one value', edit: point('Tank scale', 'Tare', { order: 'CDAB' }), finding: 'order-differs' },
  { what: 'the sign of one end', edit: point('Filler control', 'Pump flow', { type: 'int16' }), finding: 'type-differs' },
  { what: 'the scale of one end', edit: point('Filler control', 'Pump flow', { scale: null }), finding: 'scale-differs' },
  { what: 'a set point the wrong way round', edit: turned('Wanted dose set point to Dose set point'), finding: 'set-point-backwards' },
  { what: 'one unit ID twice', edit: port('Tank scale', 'serial', { unitId: 7 }), finding: 'unit-twice' },
  { what: 'another parity', edit: port('Tank scale', 'serial', { parity: 'none' }), finding: 'settings-differ' },
  { what: 'the broadcast address', edit: port('Filler control', 'ethernet', { ip: '192.168.7.255' }), finding: 'broadcast-address' },
  { what: 'a value copied where the widths differ', edit: point('Filler control', 'Tank weight', { type: 'uint16' }), finding: 'width' },
];

/** What an edit leaves as it was need not be worked out again. */
const compile = compiler();

const key = ({ id }: { id: string }) => id;

/** Routes that would be called good, or proved, although they are not what they were: everything touched by the mistake that means something. */
function unnoticed(base: Document, spoiled: Document): string[] {
  const { plan, findings } = compile(spoiled);
  const before = new Map(compile(base).plan.routes.map((row) => [row.id, row]));
  const doubted = doubtsOf(spoiled, plan, findings);
  const isDoubted = ({ id, source, destination }: PlannedRoute) => [id, source.id, destination.id].some((each) => doubted.has(each));
  return plan.routes.flatMap((row) => (isTouched(row, before.get(row.id)) && !isDoubted(row) ? [row.name] : []));
}

function isTouched(now: PlannedRoute, before: PlannedRoute | undefined): boolean {
  const own = (row: PlannedRoute) => JSON.stringify([row.source, row.destination, row.carry, row.transforms].map(bare));
  return before === undefined || own(now) !== own(before);
}

function bare(value: unknown): unknown {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
    ? { ...value, name: '', note: '', releasedBy: null, watchdogMs: null }
    : value;
}

function papersOf({ source, destination }: PlannedRoute, document: Document) {
  const [from, to] = [source, destination].map((end) => paperOf(document, end));
  return from && to ? { source: from, destination: to } : null;
}

function unlike(row: PlannedRoute, papers: { source: Point; destination: Point }): string | null {
  return unlikePapers(row.source, papers.source) ?? unlikePapers(row.destination, papers.destination);
}

/** What a proof would say first of any route. */
function proofSays(document: Document): string[] {
  return compile(document).plan.routes.flatMap((row) => {
    const papers = papersOf(row, document);
    return papers ? (unlike(row, papers) ?? arrivesByPapers(row, papers) ?? []) : [];
  });
}

function newFindings(base: Document, spoiled: Document): Finding[] {
  const known = new Set(compile(base).findings.map(findingKey));
  return compile(spoiled)
    .findings.filter((finding) => !known.has(findingKey(finding)))
    .sort(causesFirst);
}

/** How wrong a project is: what is found beyond advice, and what would arrive as another value. */
function wrongness(document: Document): number {
  const found = compile(document).findings.filter(({ severity }) => severity !== 'advice').length;
  return found + proofSays(document).length;
}

describe('single mistakes', () => {
  const plants: [string, Document, Mistake[]][] = [
    ['the demo', mendedFernhollow(), onDemo],
    ['another plant', filling(), onOther],
  ];
  const total = plants.reduce((sum, [, , mistakes]) => sum + mistakes.length, 0);

  it('are as many as are asked for, and the second plant has nothing found by itself', () => {
    expect(total).toBeGreaterThanOrEqual(66);
    expect(compile(filling()).findings.filter(({ severity }) => severity === 'stop')).toEqual([]);
    expect(new Set(filling().lines.map((row: Line) => key(row))).size).toBe(2);
  });

  for (const [plant, base, mistakes] of plants) {
    for (const { what, edit, finding, proof } of mistakes) {
      it(`${what}, on ${plant}: is named first, never called proved, and no mend makes it worse`, () => {
        const spoiled = edit(base);
        if (finding) expect(newFindings(base, spoiled)[0]?.check).toBe(finding);
        if (proof) expect(proofSays(spoiled)[0]).toMatch(proof);
        expect(unnoticed(base, spoiled)).toEqual([]);
        const compiled = compile(spoiled);
        const before = wrongness(spoiled);
        for (const row of compiled.findings) {
          for (const fix of row.fixes) {
            if (!tryMend(spoiled, compiled, row, fix, compile)) continue;
            expect(wrongness(applyChanges(spoiled, fix.changes)))
              .withContext(`${row.check}: ${fix.label}`)
              .toBeLessThanOrEqual(before);
          }
        }
      });
    }
  }
});
