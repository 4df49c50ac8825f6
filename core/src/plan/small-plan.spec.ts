import { compile } from '../compile/index.js';
import type { Point } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { describeRequest, requestSheets, type SheetRow } from './index.js';
import { occupancy } from '../occupancy/index.js';

/** A controller that takes one-based numbers, a meter behind a gateway, and two devices on the net. */
function plant() {
  const project = new SmallProject();
  const [net, bus] = [project.net(), project.bus('Kiln bus')];
  const controller = project.controller('Controller', net, {
    notation: 'area',
    entry: 'subtractsOne',
    areas: [
      { name: 'W', table: 'holding', firstIndex: 0, offset: 0, stride: 1, count: 512, firstBit: 0 },
      { name: 'B', table: 'coil', firstIndex: 0, offset: 0, stride: 1, count: 512, firstBit: null },
    ],
  });
  project.gateway('Gateway', net, bus);
  const meter = project.device('Meter', { notation: 'reference5', tries: 3, timeoutMs: 400 });
  project.port(meter, bus, { unitId: 31 });
  const drive = project.device('Drive', { functionCodes: [3, 4, 5, 6, 15, 16, 22] });
  project.port(drive, net);
  const plain = project.device('Plain');
  project.port(plain, net, { framing: 'rtu', tcpPort: 5020 });
  const [fast, chain] = [project.round(500), project.round(2000, { pauseMs: 30 })];
  const own = { carrierId: controller.id };

  const power = project.point(meter, 'Power', { table: 'input', offset: 10, type: 'float32' });
  const energy = project.point(meter, 'Energy', { table: 'input', offset: 16, type: 'uint32' });
  const setPoint = project.point(controller, 'Set point', { offset: 60 });
  const run = project.point(controller, 'Run', { table: 'coil', offset: 7, type: 'bit' });
  const release = project.point(plain, 'Release', { offset: 0 });
  const to = (device: Parameters<SmallProject['point']>[0], name: string, fields: Partial<Point>) => project.point(device, name, fields);

  project.route(power, to(controller, 'Plant power', { offset: 20, type: 'float32' }), fast, own);
  project.route(energy, to(controller, 'Plant energy', { offset: 40, type: 'int32' }), fast, { ...own, carry: 'value' });
  project.route(setPoint, to(drive, 'Speed', { offset: 1 }), fast, { ...own, trigger: { on: 'change', deadband: 0 } });
  project.route(run, to(drive, 'Command run', { offset: 3, bit: 2, type: 'bit' }), fast, { ...own, carry: 'value' });
  const releasing = { pointId: release.id, value: 1, when: 'before' } as const;
  project.route(setPoint, to(plain, 'Target', { offset: 8 }), chain, { ...own, release: releasing, trigger: { on: 'start' } });
  project.route(run, to(plain, 'Bit', { offset: 12, bit: 4, type: 'bit' }), chain, { ...own, carry: 'value' });
  project.route(power, to(plain, 'Copy of power', { offset: 100, type: 'float32' }), fast, own);
  project.route(energy, to(plain, 'Copy of energy', { offset: 200, type: 'uint32' }), chain);
  return { project, bus, plan: compile(project.document).plan };
}

const inShort = ({ number, connection, unitId, device, functionCode, functionName, start, offset, count, ...rest }: SheetRow) => ({
  row: `${number}: ${connection} unit ${unitId}, ${device}: ${functionCode} ${functionName}, ${start} (${offset}) × ${count}`,
  local:
    rest.local && `${rest.local.first} to ${rest.local.last}${rest.local.isDirect ? '' : ` by program: ${rest.local.work.join('; ')}`}`,
  when: `${rest.trigger}, ${rest.timeoutMs} ms, ${rest.tries} tries`,
  expectedMs: rest.expectedMs,
  why: rest.why,
});

/** Worked out in each test, so that what a test says is what its own run made. */
function sheetsOfPlant() {
  const { project, plan } = plant();
  return requestSheets(project.document, plan);
}

describe('the plan of a small plant', () => {
  it('has a sheet for its controller, in its own terms', () => {
    const [sheet] = sheetsOfPlant();
    expect([sheet!.carrier, sheet!.entry]).toEqual(['Controller', 'one-based entry, the first register is typed as 1']);
    expect(sheet!.rows.map(inShort)).toEqual([
      {
        row: '1: 10.40.9.2:502, then Kiln bus, 19200 8E1 unit 31, Meter: 4 read input registers, 11 (10) × 8',
        local: 'W70 to W77 by program: W70: as it is, to W20 Plant power; W76: uint32 to int32, to W40 Plant energy',
        when: 'every 500 ms, 400 ms, 3 tries',
        expectedMs: 25.6,
        why: [
          '10 zero-based; this package takes one-based numbers, so type 11.',
          '17 − 10 + 1 = 8 input registers.',
          '4 of them nobody asked for; one request across them costs less than two.',
          'In the papers of Meter it begins at 30011.',
          'The block W70 to W77 is free; the carrier’s program works from there.',
        ],
      },
      {
        row: '2: 10.40.9.3:502 unit 255, Drive: 6 write one register, 2 (1) × 1',
        local: 'W60 to W60',
        when: 'on change, 1000 ms, 2 tries',
        expectedMs: null,
        why: ['1 zero-based; this package takes one-based numbers, so type 2.', '1 − 1 + 1 = 1 holding register.'],
      },
      {
        row: '3: 10.40.9.3:502 unit 255, Drive: 22 write bits of one register, 4 (3) × 1',
        local: 'W78 to W78 by program: B7 Run: bit to bit, to W78',
        when: 'every 500 ms, 1000 ms, 2 tries',
        expectedMs: null,
        why: [
          '3 zero-based; this package takes one-based numbers, so type 4.',
          '3 − 3 + 1 = 1 holding register.',
          'Only some bits of the register are ours; function 22 leaves the others alone.',
          'The block W78 to W78 is free; the carrier’s program works from there.',
        ],
      },
      {
        row: '4: 10.40.9.4:5020 RTU unit 255, Plain: 6 write one register, 9 (8) × 1',
        local: 'W60 to W60',
        when: 'once at start, 1000 ms, 2 tries',
        expectedMs: null,
        why: [
          '8 zero-based; this package takes one-based numbers, so type 9.',
          '8 − 8 + 1 = 1 holding register.',
          'Offset 0 is set to 1 just before.',
        ],
      },
      {
        row: '5: 10.40.9.4:5020 RTU unit 255, Plain: 6 write one register, 13 (12) × 1',
        local: 'W79 to W79 by program: B7 Run: bit to bit, to W79',
        when: '30 ms after the one before, 1000 ms, 2 tries',
        expectedMs: null,
        why: [
          '12 zero-based; this package takes one-based numbers, so type 13.',
          '12 − 12 + 1 = 1 holding register.',
          'Only some bits of the register are ours, so it is read just before and its other bits are written back.',
          'The block W79 to W79 is free; the carrier’s program works from there.',
        ],
      },
      {
        row: '6: 10.40.9.4:5020 RTU unit 255, Plain: 16 write registers, 101 (100) × 2',
        local: 'W80 to W81 by program: W70 Power: as it is, to W80',
        when: 'every 500 ms, 1000 ms, 2 tries',
        expectedMs: null,
        why: [
          '100 zero-based; this package takes one-based numbers, so type 101.',
          '101 − 100 + 1 = 2 holding registers.',
          'The block W80 to W81 is free; the carrier’s program works from there.',
        ],
      },
    ]);
  });

  it('has one for Plain Envoy, which types what goes over the wire and needs no place', () => {
    const [, ours] = sheetsOfPlant();
    expect([ours!.carrierId, ours!.carrier, ours!.entry]).toEqual([
      null,
      'Plain Envoy',
      'zero-based entry, starts are typed as they go over the wire',
    ]);
    expect(ours!.rows.map(inShort)).toEqual([
      {
        row: '1: 10.40.9.2:502, then Kiln bus, 19200 8E1 unit 31, Meter: 4 read input registers, 16 (16) × 2',
        local: null,
        when: '30 ms after the one before, 400 ms, 3 tries',
        expectedMs: 18.8,
        why: ['16 zero-based, typed as it is.', '17 − 16 + 1 = 2 input registers.', 'In the papers of Meter it begins at 30017.'],
      },
      {
        row: '2: 10.40.9.4:5020 RTU unit 255, Plain: 16 write registers, 200 (200) × 2',
        local: null,
        when: '30 ms after the one before, 1000 ms, 2 tries',
        expectedMs: null,
        why: ['200 zero-based, typed as it is.', '201 − 200 + 1 = 2 holding registers.'],
      },
    ]);
  });

  it('says each request in a line', () => {
    const { plan } = plant();
    expect(plan.requests.map((request) => describeRequest(request, plan.endpoints))).toEqual([
      'reads 8 input registers from offset 10 of Meter, unit 31 through Gateway, with function 4, every 500 ms',
      'reads 1 holding register at offset 60 of Controller, unit 255, with function 3, every 500 ms',
      'reads 1 coil at offset 7 of Controller, unit 255, with function 1, every 500 ms',
      'reads 1 holding register at offset 60 of Controller, unit 255, with function 3, every 2000 ms',
      'reads 1 coil at offset 7 of Controller, unit 255, with function 1, every 2000 ms',
      'reads 2 input registers from offset 16 of Meter, unit 31 through Gateway, with function 4, every 2000 ms',
      'writes 2 holding registers from offset 20 of Controller, unit 255, with function 16, every 500 ms',
      'writes 2 holding registers from offset 40 of Controller, unit 255, with function 16, every 500 ms',
      'writes 1 holding register at offset 1 of Drive, unit 255, with function 6, every 500 ms',
      'writes 1 holding register at offset 3 of Drive, unit 255, with function 22, every 500 ms',
      'writes 1 holding register at offset 8 of Plain, unit 255, with function 6, every 2000 ms',
      'writes 1 holding register at offset 12 of Plain, unit 255, with function 6, every 2000 ms',
      'writes 2 holding registers from offset 100 of Plain, unit 255, with function 16, every 500 ms',
      'writes 2 holding registers from offset 200 of Plain, unit 255, with function 16, every 2000 ms',
    ]);
  });

  it('carries each request as its device wants it', () => {
    const { project, plan } = plant();
    const of = (device: string, offset: number) => plan.requests.find((row) => row.deviceName === device && row.offset === offset)!;
    expect(of('Meter', 10)).toEqual(
      jasmine.objectContaining({ kind: 'read', local: false, timeoutMs: 400, tries: 3, periodMs: 500, pauseMs: null, partial: null }),
    );
    expect(of('Meter', 10).points.map(({ at, width }) => [at, width])).toEqual([
      [0, 2],
      [6, 2],
    ]);
    expect([of('Drive', 3).partial, of('Plain', 12).partial, of('Controller', 20).local]).toEqual(['mask', 'read', true]);
    expect(of('Plain', 8).release).toEqual({ when: 'before', functionCode: 6, table: 'holding', offset: 0, values: [1] });
    expect([of('Plain', 12).pauseMs, of('Plain', 12).periodMs, of('Plain', 12).priority]).toEqual([30, 2000, 5]);
    expect(new Set(plan.requests.map(({ id }) => id)).size).toBe(plan.requests.length);
    const again = compile(project.document).plan;
    expect(again).toEqual(plan);
  });

  it('asks of each line the share of its time that its requests take', () => {
    const { project, bus, plan } = plant();
    expect([...occupancy(project.document, plan.requests)].map(([id, { share }]) => [id, Math.round(share * 1e4) / 1e4])).toEqual([
      [bus.id, 0.0606],
    ]);
    const twice = { ...plan, requests: plan.requests.map((request) => ({ ...request, periodMs: request.periodMs / 2 })) };
    expect(Math.round(occupancy(project.document, twice.requests).get(bus.id)!.share * 1e4) / 1e4).toBe(0.1213);
    expect(
      occupancy(
        project.document,
        plan.requests.map((row) => ({ ...row, kind: 'watch' as const })),
      ).get(bus.id),
    ).toEqual({ share: 0, longest: null });
  });
});
