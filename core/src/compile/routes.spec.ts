import { fernhollow } from '../demo/index.js';
import { applyChanges, plainRoute, type Point, type ProjectDocument, type Route } from '../model/index.js';
import { clientsOf, describeRequest, type PlannedRequest } from '../plan/index.js';
import { jobsOf } from '../schedule/index.js';
import { compile } from './index.js';
import { inOrder, reversed } from '../making/index.js';

const demo = fernhollow();
const device = (name: string) => demo.devices.find((row) => row.name === name)!;
const named = (name: string) => demo.points.find((row) => row.name === name)!;
const [kiln, steep, floor] = [device('Kiln controller'), device('Steep controller'), device('Floor I/O block')];

let last = 0;
const id = () => `019aa000-0000-7000-8000-0000000f${String((last += 1)).padStart(4, '0')}`;

function point(owner: typeof kiln, fields: Partial<Point>): Point {
  const base = named('Damper set point');
  return { ...base, scale: null, unit: '', bits: [], codes: [], id: id(), deviceId: owner.id, ...fields };
}
const word = (owner: typeof kiln, offset: number, fields: Partial<Point> = {}) =>
  point(owner, { name: `${owner.name} ${offset}`, type: 'uint16', table: 'holding', offset, ...fields });
const flag = (owner: typeof kiln, offset: number, bit: number, fields: Partial<Point> = {}) =>
  word(owner, offset, { type: 'bit', bit, name: `${owner.name} ${offset}.${bit}`, ...fields });

function route(source: Point, destination: Point, fields: Partial<Route> = {}): Route {
  const { id: roundId } = demo.rounds[0]!;
  const ends = { sourceId: source.id, destinationId: destination.id, roundId };
  return {
    id: id(),
    projectId: source.projectId,
    name: `${source.name} to ${destination.name}`,
    note: '',
    ...ends,
    ...plainRoute,
    carry: 'registers',
    ...fields,
  };
}

/** The demo's plant with these points and routes instead of its own. */
function plant(points: Point[], routes: Route[], devices: Partial<typeof kiln>[] = []): ProjectDocument {
  const changed = demo.devices.map((row) => ({ ...row, ...devices.find((change) => change.name === row.name) }));
  return { ...demo, devices: changed, points, routes };
}
const text = ({ kind, functionCode, offset, count, partial }: PlannedRequest) =>
  `${kind} f${functionCode} ${offset}+${count}${partial ? ` ${partial}` : ''}`;
const requestsOf = (document: ProjectDocument) => compile(document).plan.requests.map(text);
const checksOf = (document: ProjectDocument) =>
  compile(document)
    .findings.filter(({ at, severity }) => at.entity === 'route' && severity !== 'advice')
    .map(({ check }) => check);

describe('bits of a register', () => {
  const sources = [0, 1, 2].map((bit) => flag(steep, 100, bit));
  const bits = [3, 7, 9].map((bit) => flag(kiln, 200, bit));
  const routes = sources.map((source, index) => route(source, bits[index]!));

  it('that several routes own become one write, which reads the others before', () => {
    const { plan } = compile(plant([...sources, ...bits], routes));
    expect(plan.requests.map(text)).toEqual(['read f3 100+1', 'write f6 200+1 read']);
    expect(new Set(plan.routes.map(({ writeId }) => writeId)).size).toBe(1);
  });

  it('are one mask write where the device has function 22, wherever they come from', () => {
    const other = flag(floor, 5, 0);
    const more = flag(kiln, 200, 15);
    const document = plant(
      [...sources, other, ...bits, more],
      [...routes, route(other, more)],
      [{ name: kiln.name, functionCodes: [3, 6, 16, 22] }],
    );
    expect(requestsOf(document)).toEqual(['read f3 100+1', 'read f3 5+1', 'write f22 200+1 mask']);
  });

  it('can be a part of a number, put there by a step', () => {
    const [from, to] = [word(steep, 1), word(kiln, 2)];
    const step = { kind: 'insert', at: 4, count: 4 } as const;
    expect(requestsOf(plant([from, to], [route(from, to, { carry: 'value', transforms: [step] })]))).toEqual([
      'read f3 1+1',
      'write f6 2+1 read',
    ]);
  });
});

describe('who carries', () => {
  const [from, to] = [word(floor, 3, { table: 'input', access: 'read' }), word(kiln, 40)];

  it('decides which requests go over a line: reads into its own memory, writes out of it', () => {
    const { plan, findings } = compile(plant([from, to], [route(from, to, { carrierId: kiln.id })]));
    expect(findings.filter(({ check }) => check.startsWith('carrier'))).toEqual([]);
    expect(plan.requests.map((request) => [text(request), request.local, request.carrierId])).toEqual([
      ['read f4 3+1', false, kiln.id],
      ['write f6 40+1', true, kiln.id],
    ]);
  });

  it('must be able to ask, and to reach both ends', () => {
    const airOn = word(device('Air-on transmitter'), 4);
    const only = (carrierId: string) => checksOf(plant([airOn, to], [route(airOn, to, { carrierId })]));
    expect(only(kiln.id)).toEqual([]);
    expect(only(floor.id)).toContain('carrier');
    expect(only(device('Turner converter').id)).toEqual(['carrier-cannot-reach', 'carrier-cannot-reach']);
    expect(only(id())).toEqual(['route-incomplete']);
  });
});

describe('function 23', () => {
  const [state, wish] = [word(kiln, 40), word(kiln, 41)];
  const [heard, said] = [word(steep, 120), word(steep, 100)];
  const [out, back] = [route(state, heard, { carrierId: kiln.id }), route(said, wish, { carrierId: kiln.id })];
  const joined = (routes: readonly Route[], points: Point[] = []) =>
    compile(plant([state, wish, heard, said, ...points], [...routes])).plan.requests.filter(({ also, withId }) => also ?? withId);

  it('joins what a carrier writes from its own memory with what it reads of the same device in the same round', () => {
    const [read, write] = joined([out, back]);
    expect([read!.functionCode, write!.functionCode, read!.withId]).toEqual([23, 23, write!.id]);
    expect(write!.also).toEqual({ id: read!.id, offset: 100, count: 1 });
    expect(describeRequest(write!, [])).toContain('writes 1 holding register at offset 120');
    expect(describeRequest(write!, [])).toContain('and reads 1 from offset 100, with function 23');
  });

  it('is left out where the read would wait for another device, or the write does not always go out', () => {
    expect(joined([{ ...out, roundId: demo.rounds[1]!.id }, back])).toEqual([]);
    expect(joined([{ ...out, onlyDifferent: true }, back])).toEqual([]);
    expect(joined([out, back].map((row) => ({ ...row, carrierId: null })))).toEqual([]);
    const far = word(floor, 5);
    expect(joined([{ ...out, sourceId: far.id }, back], [far])).toEqual([]);
  });

  it('goes out once for both, and its read is no job of its own', () => {
    const { plan } = compile(plant([state, wish, heard, said], [out, back]));
    const { jobs } = jobsOf(plan);
    expect(plan.requests.length - jobs.length).toBe(1);
    const write = plan.requests.find(({ also }) => also)!;
    const last = jobs.find(({ id }) => id === plan.routes.find(({ name }) => name === back.name)!.writeId)!;
    expect(last.release).toEqual({ on: 'after', ids: [write.id], pauseMs: 0, chain: null });
  });
});

describe('a release, a condition and a validity bit', () => {
  it('are planned with the route: the release in its write, the bits in reads, the validity in a write of its own', () => {
    const [from, to, release] = [word(steep, 1), word(kiln, 40), word(kiln, 45)];
    const [only, edge, valid] = [
      flag(steep, 9, 1),
      flag(steep, 9, 2),
      point(kiln, { name: 'valid', table: 'coil', type: 'bit', offset: 7 }),
    ];
    const carried = route(from, to, {
      whileId: only.id,
      trigger: { on: 'edge', pointId: edge.id },
      release: { pointId: release.id, value: 5, when: 'after' },
      loss: { rule: 'invalid', value: null, validId: valid.id, afterMs: 1000, stillMs: null },
    });
    const { plan } = compile(plant([from, to, release, only, edge, valid], [carried]));
    expect(plan.requests.map(text)).toEqual(['read f3 1+9', 'write f6 40+1', 'write f5 7+1']);
    expect(plan.requests[1]!.release).toEqual({ when: 'after', functionCode: 6, table: 'holding', offset: 45, values: [5] });
    const [planned] = plan.routes;
    expect([planned!.others.map(({ name }) => name), planned!.valid?.writeId]).toEqual([[edge.name, only.name], plan.requests[2]!.id]);
  });

  it('have to be where they can work', () => {
    const [from, to] = [word(steep, 1), word(kiln, 40)];
    const releasing = (released: Point, value = 1) =>
      checksOf(plant([from, to, released], [route(from, to, { release: { pointId: released.id, value, when: 'before' } })]));
    expect(releasing(word(kiln, 41))).toEqual([]);
    expect(releasing(word(steep, 41))).toEqual(['release']);
    expect(releasing(word(kiln, 41), 70_000)).toEqual(['release']);
    expect(checksOf(plant([from, to], [route(from, to, { whileId: id() })]))).toEqual(['route-incomplete']);
  });
});

describe('findings of routes', () => {
  const [a, b] = [word(steep, 10), word(steep, 20)];
  const [x, y] = [word(kiln, 30), word(kiln, 31)];

  it('see two writers of one register or bit, but not two bits of one register', () => {
    expect(checksOf(plant([a, b, x], [route(a, x), route(b, x)]))).toEqual(['two-writers']);
    const wide = word(kiln, 30, { type: 'uint32' });
    const long = word(steep, 20, { type: 'uint32' });
    expect(checksOf(plant([a, long, y, wide], [route(a, y), route(long, wide)]))).toEqual(['two-writers']);
    const coils = [0, 1].map((bit) => flag(steep, 10, bit));
    const bits = [0, 1].map((bit) => flag(kiln, 30, bit));
    expect(checksOf(plant([...coils, ...bits], [route(coils[0]!, bits[0]!), route(coils[1]!, bits[1]!)]))).toEqual([]);
    expect(checksOf(plant([...coils, ...bits], [route(coils[0]!, bits[0]!), route(coils[1]!, bits[0]!)]))).toEqual(['two-writers']);
  });

  it('see a loop of copies, of any length, register by register', () => {
    expect(checksOf(plant([a, x], [route(a, x), route(x, a)]))).toEqual(['loop']);
    const document = plant([a, b, x, y], [route(a, x), route(x, b), route(b, y), route(y, a)]);
    const [found] = compile(document).findings.filter(({ check }) => check === 'loop');
    expect(found?.message).toContain('Steep controller Steep controller 10 → Kiln controller Kiln controller 30 → Steep controller');
    expect(checksOf(plant([a, b, x, y], [route(a, x), route(x, b), route(b, y)]))).toEqual([]);
  });

  it('see registers that read differently at the two ends', () => {
    const long = (owner: typeof kiln, fields: Partial<Point>) => word(owner, 60, { type: 'uint32', ...fields });
    const registers = (from: Partial<Point>, to: Partial<Point>) => {
      const ends = [long(steep, from), long(kiln, to)] as const;
      return checksOf(plant([...ends], [route(...ends)]));
    };
    expect(registers({}, {})).toEqual([]);
    expect(registers({ order: 'CDAB' }, {})).toEqual(['order-not-swapped']);
    expect(registers({ type: 'float32' }, {})).toEqual(['type-differs']);
    expect(registers({ scale: { factor: 0.1, offset: 0 } }, {})).toEqual(['scale-differs']);
  });

  it('see values that do not fit, with the value at which they do not, and decimals that are lost', () => {
    const [from, to] = [word(steep, 1, { type: 'uint32', unit: 'kg' }), word(kiln, 1, { type: 'int16' })];
    const { findings } = compile(plant([from, to], [route(from, to, { carry: 'value' })]));
    expect(findings.find(({ check }) => check === 'overflow')?.message).toContain(
      'takes Steep controller 1 up to 32767 kg; the rest is not carried',
    );
    const tenths = word(steep, 5, { scale: { factor: 0.1, offset: 0 } });
    expect(checksOf(plant([tenths, x], [route(tenths, x, { carry: 'value' })]))).toEqual(['precision']);
  });

  it('say once for each device which floats could be more than their destinations hold, and limit them all in one action', () => {
    const [from, to, second] = [word(steep, 1, { type: 'float32' }), word(kiln, 1), word(kiln, 2)];
    const routes = [route(from, to, { carry: 'value' }), route(from, second, { carry: 'value' })];
    const document = plant([from, to, second], routes);
    const [advice] = compile(document).findings.filter(({ check }) => check === 'room');
    expect(advice?.message).toContain('Kiln controller 1 and Kiln controller 2 take a value that has no known limits');
    expect(checksOf(applyChanges(document, advice!.fixes[0]!.changes))).toEqual([]);
  });

  it('see a point that is ignored until another is set, where nothing sets it, and set it before in one action', () => {
    const release = word(floor, 1);
    const [from, to] = [word(kiln, 1), word(floor, 2, { releasedBy: release.id })];
    const document = plant([from, to, release], [route(from, to)]);
    const { findings } = compile(document);
    const finding = findings.find(({ check }) => check === 'never-released')!;
    expect(finding.message).toContain('Floor I/O block 2 is ignored until Floor I/O block 1 is set');
    expect(checksOf(applyChanges(document, finding.fixes[0]!.changes))).toEqual([]);
    const other = word(kiln, 9);
    expect(checksOf(plant([from, to, release, other], [route(from, to), route(other, release)]))).toEqual([]);
  });

  it('see a device that is written more seldom than it waits, and move a route to a round that is quick enough', () => {
    const [from, to] = [word(kiln, 1), word(floor, 2)];
    const calm = demo.rounds.find(({ periodMs }) => periodMs === 10_000)!;
    const trips = [{ name: floor.name, writeTimeoutMs: 3000 }];
    const document = plant([from, to], [route(from, to, { roundId: calm.id })], trips);
    const finding = compile(document).findings.find(({ check }) => check === 'written-too-seldom')!;
    expect(finding.message).toContain('trips when nothing is written to it for 3000 ms, and it is written every 10000 ms');
    expect(checksOf(applyChanges(document, finding.fixes[0]!.changes))).toEqual([]);
    expect(checksOf(plant([from, to], [route(from, to, { onlyDifferent: true })], trips))).toEqual(['written-too-seldom']);
    expect(checksOf(plant([from, to], [route(from, to)], trips))).toEqual([]);
  });

  it('see a watchdog that its heartbeat trips, or that waits longer than what its device commands', () => {
    const [beat, command, drive] = [word(steep, 1), word(kiln, 2), word(floor, 2)];
    const trips = [{ name: floor.name, writeTimeoutMs: 3000 }];
    const guarded = (watchdogMs: number) => {
      const here = word(kiln, 1, { watchdogMs });
      return plant([beat, here, command, drive], [route(beat, here), route(command, drive)], trips);
    };
    const of = (watchdogMs: number) => compile(guarded(watchdogMs)).findings.find(({ check }) => check.startsWith('watchdog'));
    expect([of(600)?.check, of(5000)?.check, of(2000)]).toEqual(['watchdog-short', 'watchdog-long', undefined]);
    expect(of(5000)?.message).toContain(
      'its watchdog waits 5000 ms, longer than Floor I/O block, which it commands: it trips after 3000 ms',
    );
    for (const ms of [600, 5000]) {
      const document = guarded(ms);
      const [found] = compile(document).findings.filter(({ fixes }) => fixes.length > 0);
      expect(checksOf(applyChanges(document, found!.fixes[0]!.changes))).toEqual([]);
    }
  });

  it('count the carriers that connect to a device', () => {
    const [a, b, c] = [word(kiln, 1), word(steep, 1), word(floor, 1)];
    const { plan } = compile(plant([a, b, c], [route(b, a, { carrierId: kiln.id }), route(b, c)]));
    expect(clientsOf(plan.requests)).toEqual(
      new Map([
        [steep.id, 2],
        [floor.id, 1],
      ]),
    );
  });

  it('see what the device cannot do: a code that it lacks, a point in what it refuses', () => {
    expect(checksOf(plant([a, x], [route(a, x)], [{ name: kiln.name, functionCodes: [3] }]))).toEqual(['cannot-carry']);
    expect(checksOf(plant([a, x], [route(a, x)], [{ name: steep.name, forbidden: [{ table: 'holding', first: 9, last: 11 }] }]))).toEqual([
      'cannot-carry',
    ]);
  });

  it('advise of points that nobody uses, once for each device that takes part', () => {
    const { findings } = compile(plant([a, b, x], [route(a, x)]));
    expect(findings.filter(({ check }) => check === 'unused-points').map(({ message }) => message)).toEqual([
      'Steep controller: no route carries Steep controller 20.',
    ]);
  });
});

describe('inOrder', () => {
  const chosen = [0, 1, 2].map((index) => word(steep, 100 + 2 * index, { type: 'uint32', name: `Tank ${index + 1}` }));
  const order = (changes: Partial<Parameters<typeof inOrder>[0]>) =>
    inOrder({
      chosen,
      side: 'source',
      other: { deviceId: kiln.id, projectId: kiln.projectId, points: [] },
      first: { table: 'holding', offset: 300, bit: null },
      makeWith: 'Steep',
      roundId: demo.rounds[0]!.id,
      carrierId: null,
      routes: [],
      newId: id,
      ...changes,
    });

  it('makes points that are called after their sources, with their device before, and step by the width of their type, and a route to each', () => {
    expect(order({}).map(({ other, isNew, route: made }) => [other?.name, other?.offset, other?.type, isNew, made?.carry])).toEqual([
      ['Steep Tank 1', 300, 'uint32', true, 'registers'],
      ['Steep Tank 2', 302, 'uint32', true, 'registers'],
      ['Steep Tank 3', 304, 'uint32', true, 'registers'],
    ]);
  });

  it('takes points that are there, and says where none is', () => {
    const there = [word(kiln, 300, { type: 'uint32', order: 'CDAB' }), word(kiln, 302), word(kiln, 303)];
    const other = { deviceId: kiln.id, projectId: kiln.projectId, points: there };
    const rows = order({ other, makeWith: null });
    expect(rows.map(({ other: found, isNew, route: made }) => [found?.id, isNew, made?.carry])).toEqual([
      [there[0]!.id, false, 'value'],
      [there[1]!.id, false, 'value'],
      [there[2]!.id, false, 'value'],
    ]);
    expect(order({ makeWith: null })[0]!.problem).toContain('No point is at offset 300');
    const inTheWay = { ...other, points: [word(kiln, 301)] };
    expect(order({ other: inTheWay })[0]!.problem).toContain('is there already and begins elsewhere');
  });

  it('puts bits into registers one after another, and into coils', () => {
    const bits = Array.from({ length: 18 }, (_, index) => flag(steep, 10 + (index >> 4), index & 15));
    const into = (table: 'coil' | 'holding') =>
      order({ chosen: bits, first: { table, offset: 50, bit: null } }).map(({ other }) => [other?.offset, other?.bit]);
    expect(into('holding').slice(14)).toEqual([
      [50, 14],
      [50, 15],
      [51, 0],
      [51, 1],
    ]);
    expect(into('coil').slice(16)).toEqual([
      [66, null],
      [67, null],
    ]);
  });

  it('works from the destination as well, and makes no route twice', () => {
    const rows = order({
      side: 'destination',
      other: { deviceId: floor.id, projectId: floor.projectId, points: [] },
      first: { table: 'input', offset: 0, bit: null },
    });
    expect(rows.map(({ route: made, other }) => made!.sourceId === other!.id && other!.access === 'read')).toEqual([true, true, true]);
    const again = order({
      side: 'source',
      other: { deviceId: kiln.id, projectId: kiln.projectId, points: [word(kiln, 300, { type: 'uint32', id: kilnPoint })] },
      routes: [{ ...route(chosen[0]!, chosen[1]!), destinationId: kilnPoint }],
    });
    expect(again[0]!.problem).toContain('carries this already');
  });
  const kilnPoint = id();
});

describe('reversed', () => {
  it('turns a route round and undoes its steps; says what is lost and what cannot be', () => {
    const [from, to] = [word(steep, 1), word(kiln, 2)];
    const scaled = route(from, to, {
      carry: 'value',
      transforms: [
        { kind: 'scale', factor: 10, offset: 0 },
        { kind: 'round', decimals: 0, direction: 'up' },
      ],
    });
    const back = reversed(scaled, from, to);
    expect([back.route.sourceId, back.route.transforms, back.lost, back.problem]).toEqual([
      to.id,
      [{ kind: 'scale', factor: 0.1, offset: 0 }],
      ['round'],
      null,
    ]);
    const input = word(floor, 1, { table: 'input', access: 'read' });
    expect(reversed(route(input, to), input, to).problem).toContain('read-only table');
  });
});
