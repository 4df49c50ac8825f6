import { lineTime } from '../line/index.js';
import type { ModbusLine } from '../media/index.js';
import { SmallProject } from '../testing/index.js';
import { lookup } from './lookup.js';
import { Memory } from './memory.js';
import type { PlannedRequest } from './plan.js';
import { requestMaker, type Together } from './requests.js';

/** A meter behind a gateway and a drive on the net. */
function plant() {
  const project = new SmallProject();
  const [net, bus] = [project.net(), project.bus()];
  const gateway = project.gateway('Gateway', net, bus);
  const meter = project.device('Meter', { delayMs: 15, timeoutMs: 400, tries: 3 });
  project.port(meter, bus, { unitId: 9 });
  const drive = project.device('Drive', { functionCodes: [3, 6, 16, 22] });
  project.port(drive, net, { unitId: 4 });
  const round = project.round(500, { phaseMs: 20, pauseMs: 5, priority: 3 });
  return { project, bus: bus as ModbusLine, gateway, meter, drive, round };
}

const inShort = ({ functionCode, offset, count }: PlannedRequest) => `f${functionCode} ${offset}+${count}`;

describe('requests for points that are carried together', () => {
  it('say all that the device, its round and its way say', () => {
    const { project, gateway, meter, round } = plant();
    const [a, b] = [project.point(meter, 'A', { offset: 10, type: 'float32' }), project.point(meter, 'B', { offset: 13 })];
    const maker = requestMaker(lookup(project.document));
    const { requests, byPoint } = maker.make({ kind: 'read', carrierId: 'carrier', round, points: [a, b] });
    expect(requests).toEqual([
      {
        id: `read:${round.id}:${meter.id}:holding:10:4:carrier`,
        ...{ kind: 'read', carrierId: 'carrier', local: false },
        ...{ endpointId: gateway.id, deviceId: meter.id, deviceName: 'Meter', unitId: 9 },
        ...{ functionCode: 3, also: null, withId: null, functionCodes: meter.functionCodes },
        ...{ table: 'holding', offset: 10, count: 4 },
        ...{ roundId: round.id, periodMs: 500, phaseMs: 20, pauseMs: 5, priority: 3 },
        ...{ delayMs: 15, timeoutMs: 400, tries: 3 },
        points: [
          { pointId: a.id, at: 0, width: 2 },
          { pointId: b.id, at: 3, width: 1 },
        ],
        ...{ broadcast: null, partial: null, release: null },
      },
    ]);
    expect([byPoint.get(a.id), byPoint.get(b.id)]).toEqual([requests[0], requests[0]]);
    expect([...maker.endpoints.keys()]).toEqual([gateway.id]);
  });

  it('are, where somebody only looks, twice a second and after everything else', () => {
    const { project, drive } = plant();
    const points = [project.point(drive, 'A', { offset: 1 })];
    const [request] = requestMaker(lookup(project.document)).make({ kind: 'watch', carrierId: null, round: null, points }).requests;
    expect(request).toEqual(
      jasmine.objectContaining({ roundId: null, periodMs: 500, phaseMs: 0, pauseMs: null, priority: 10, carrierId: null, kind: 'watch' }),
    );
    expect(request!.id).toBe(`watch:look:${drive.id}:holding:1:1`);
  });

  it('are local where the carrier asks itself', () => {
    const { project, drive, round } = plant();
    const points = [project.point(drive, 'A', { offset: 1 })];
    const make = (carrierId: string) => requestMaker(lookup(project.document)).make({ kind: 'read', carrierId, round, points }).requests[0];
    expect([make(drive.id)!.local, make('other')!.local]).toEqual([true, false]);
  });

  it('cross a hole on a serial line where its bytes take less time than a request', () => {
    const { project, bus, meter, round } = plant();
    const time = (count: number) => lineTime({ settings: bus, framing: 'rtu', functionCode: 3, count }).totalMs;
    const perWord = time(2) - time(1);
    const worth = Math.floor((time(1) - perWord) / perWord);
    const make = (hole: number) => {
      const points = [project.point(meter, 'A', { offset: 0 }), project.point(meter, 'B', { offset: 1 + hole })];
      return requestMaker(lookup(project.document)).make({ kind: 'read', carrierId: null, round, points }).requests.length;
    };
    expect([make(worth), make(worth + 1)]).toEqual([1, 2]);
    const bits = (hole: number) => {
      const points = [0, 1 + hole].map((offset) => project.point(meter, 'Bit', { table: 'coil', type: 'bit', offset }));
      return requestMaker(lookup(project.document)).make({ kind: 'read', carrierId: null, round, points }).requests.length;
    };
    expect([bits(16 * worth), bits(16 * (worth + 1))]).toEqual([1, 2]);
  });

  it('keep writes that overlap apart, and bits of one register together', () => {
    const { project, drive, round } = plant();
    const [whole, half, next] = [
      project.point(drive, 'Whole', { offset: 2, type: 'uint32' }),
      project.point(drive, 'Half', { offset: 3 }),
      project.point(drive, 'Next', { offset: 4 }),
    ];
    const make = (fields: Partial<Together>) =>
      requestMaker(lookup(project.document)).make({ kind: 'write', carrierId: null, round, points: [next, half, whole], ...fields });
    expect(make({}).requests.map(inShort)).toEqual(['f16 2+3', 'f6 3+1']);
    expect(make({ kind: 'read' }).requests.map(inShort)).toEqual(['f3 2+3']);
    const bits = [0, 7].map((bit) => project.point(drive, `Bit ${bit}`, { offset: 8, bit, type: 'bit' }));
    const masked = make({ points: bits, isPartial: true }).requests;
    expect(masked.map((request) => [inShort(request), request.partial])).toEqual([['f22 8+1', 'mask']]);
    expect(make({ points: bits }).requests.map((request) => [inShort(request), request.partial])).toEqual([
      ['f6 8+1', null],
      ['f6 8+1', null],
    ]);
  });

  it('read first where a device without function 22 owns only some bits, and tell like ones apart by their mark', () => {
    const { project, meter, round } = plant();
    const points = [project.point(meter, 'Bit', { offset: 8, bit: 3, type: 'bit' })];
    const [request] = requestMaker(lookup(project.document)).make({
      ...{ kind: 'write', carrierId: null, round, points, isPartial: true, mark: 'bits' },
    }).requests;
    expect([inShort(request!), request!.partial, request!.id.endsWith(':bits')]).toEqual(['f6 8+1', 'read', true]);
  });

  it('say what releases them, by the code that the device has', () => {
    const { project, drive, meter, round } = plant();
    const released = (device: typeof drive, words: number[], functionCodes: number[]) => {
      const points = [project.point(device, 'Target', { offset: 20 })];
      const point = project.point(device, 'Release', { offset: 30 });
      const document = {
        ...project.document,
        devices: project.document.devices.map((row) => (row.id === device.id ? { ...row, functionCodes } : row)),
      };
      const release = { point, words, when: 'after' } as const;
      return requestMaker(lookup(document)).make({ kind: 'write', carrierId: null, round, points, release }).requests[0]!.release;
    };
    expect(released(drive, [7], [3, 6, 16])).toEqual({ when: 'after', functionCode: 6, table: 'holding', offset: 30, values: [7] });
    expect(released(drive, [7], [3, 16])?.functionCode).toBe(16);
    expect(released(meter, [7, 8], [3, 6, 16])).toEqual({ when: 'after', functionCode: 16, table: 'holding', offset: 30, values: [7, 8] });
  });

  it('are the very same for the next document, until anything that they rest on is another', () => {
    const { project, drive, round } = plant();
    const memory = new Memory();
    const points = [project.point(drive, 'A', { offset: 1 })];
    const { document } = project;
    const make = (from: typeof document, together: Partial<Together> = {}) => {
      const group = requestMaker(lookup(from, memory)).make({ kind: 'write', carrierId: null, round, points, ...together });
      memory.sweep();
      return group;
    };
    const first = make(document);
    expect(make(document)).toBe(first);
    const slower = { ...document, devices: document.devices.map((row) => (row.id === drive.id ? { ...row, timeoutMs: 5000 } : row)) };
    expect(make(slower).requests[0]!.timeoutMs).toBe(5000);
    const moved = { ...document, ports: document.ports.map((row) => (row.deviceId === drive.id ? { ...row, unitId: 77 } : row)) };
    expect(make(moved).requests[0]!.unitId).toBe(77);
    const readdressed = { ...document, ports: document.ports.map((row) => (row.kind === 'ethernet' ? { ...row, tcpPort: 503 } : row)) };
    const before = make(document);
    expect(make(readdressed)).not.toBe(before);
    const release: Together['release'] = { point: points[0]!, words: [1], when: 'before' };
    const released = make(document, { release });
    expect(make(document, { release: { ...release, words: [2] } }).requests[0]!.release!.values).toEqual([2]);
    expect(make(document, { release: { ...release, when: 'after' } }).requests[0]!.release!.when).toBe('after');
    expect(released.requests[0]!.release!.values).toEqual([1]);
    expect(make(document, { points: [{ ...points[0]!, offset: 2 }] }).requests[0]!.offset).toBe(2);
    expect(make(document, { round: { ...round, periodMs: 9 } }).requests[0]!.periodMs).toBe(9);
  });
});
