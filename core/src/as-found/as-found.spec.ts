import { fernhollow } from '../demo/index.js';
import { noIdentification } from '../identity/index.js';
import type { Point, ProjectDocument } from '../model/index.js';
import { applyChanges } from '../model/index.js';
import {
  foundBeside,
  type FoundPlace,
  type FoundRow,
  foundTally,
  matchFound,
  newestObserved,
  Observed,
  type ObservedDevice,
  takeAsDesigned,
  whereAsked,
} from './index.js';

const demo = fernhollow();
const deviceNamed = (name: string) => demo.devices.find((device) => device.name === name)!;
const lineNamed = (name: string) => demo.lines.find((line) => line.name === name)!;
const drive = deviceNamed('Fan drive north');
const own = (name: string) => demo.points.find((point) => point.deviceId === drive.id && point.name === name)!;
const asked = (name: string, document = demo) => {
  const where = whereAsked(document, deviceNamed(name).id);
  return where.ok ? where.value : `not: ${where.problem.message}`;
};
const held = (name: string, ...words: number[]) => ({ table: own(name).table, offset: own(name).offset, words });
const seen: ObservedDevice = {
  ...{ kind: 'device', name: drive.name, on: 'stand-ins', asked: asked('Fan drive north'), identification: noIdentification },
  steps: [
    { name: 'network', passed: true, sentence: 'It is in the network.' },
    { name: 'connect', passed: true, sentence: 'Kiln gateway takes a connection.' },
    { name: 'answer', passed: true, sentence: 'Unit 11 gives a register.' },
  ],
  held: [held('Comms timeout', 30), held('Ramp to top speed', 75), held('Top speed', 580)],
  ...{ refused: [], ended: null },
};
const beside = (fields: Partial<ObservedDevice> = {}, document: ProjectDocument = demo) =>
  foundBeside(document, drive.id, { ...seen, ...fields });
const rowOf = (rows: readonly FoundRow[], what: string) => {
  const row = rows.find((one) => one.what === what);
  return row && [row.designed, row.found, row.verdict];
};
const withPoint = (point: Point, fields: Partial<Point>): ProjectDocument => ({
  ...demo,
  points: demo.points.map((one) => (one.id === point.id ? { ...one, ...fields } : one)),
});

describe('Where a device is asked', () => {
  it('is its address, or its unit and what leads to it', () => {
    expect(asked('Burner control')).toBe('10.40.8.21, TCP port 502, unit 255');
    expect(asked('Fan drive north')).toBe('unit 11 through Kiln gateway at 10.40.8.30, TCP port 502');
    const gateway = deviceNamed('Kiln gateway').id;
    const alone = { ...demo, ports: demo.ports.filter(({ deviceId }) => deviceId !== gateway) };
    expect(asked('Fan drive north', alone)).toBe('unit 11 on Kiln bus, 19200 8E1');
    expect(asked('Weigh indicator')).toBe('not: It is behind Text port, which is asked in its place.');
  });
});

describe('A device as it was found', () => {
  it('stands beside what is designed, setting by setting', () => {
    const rows = beside();
    expect(rowOf(rows, 'Where it is asked')).toEqual([asked('Fan drive north'), 'asked there', 'same']);
    expect(rowOf(rows, 'Answer')).toEqual(['given', 'Unit 11 gives a register.', 'same']);
    expect(rowOf(rows, 'Comms timeout')).toEqual(['3.0 s', '3.0 s', 'same']);
    expect(rowOf(rows, 'Ramp to top speed')).toEqual(['9.0 s', '7.5 s', 'differs']);
    expect(rowOf(rows, 'Pulses per turn')).withContext('what was not read is not good').toEqual(['1024', 'not read', 'unknown']);
    expect(foundTally(rows)).toBe('1 differs, 1 not known');
    expect(foundTally(rows.filter(({ verdict }) => verdict === 'same'))).toBe('as designed');
  });

  it('is not compared where another revision has it elsewhere, neither the device nor one of its registers', () => {
    const port = demo.ports.find((one) => one.deviceId === drive.id)!;
    const moved = { ...demo, ports: demo.ports.map((one) => (one === port && one.kind === 'serial' ? { ...one, unitId: 13 } : one)) };
    expect(beside({}, moved)).toEqual([
      jasmine.objectContaining({
        designed: 'unit 13 through Kiln gateway at 10.40.8.30, TCP port 502',
        found: `It was asked as ${seen.asked}. Look again.`,
        verdict: 'unknown',
      }),
    ]);
    const ramp = own('Ramp to top speed');
    expect(rowOf(beside({}, withPoint(ramp, { offset: ramp.offset + 100 })), ramp.name)).toEqual(['9.0 s', 'not read', 'unknown']);
    const gone = { ...demo, devices: demo.devices.filter(({ id }) => id !== drive.id) };
    expect(beside({}, gone)[0]!.designed).toBe('it is not in this revision');
  });

  it('that does not answer differs by that, and nothing else of it is known', () => {
    const silent = 'No answer from unit 11.';
    const rows = beside({
      steps: [...seen.steps.slice(0, 2), { name: 'answer', passed: false, sentence: silent }],
      held: [],
      ended: silent,
    });
    expect(rowOf(rows, 'Answer')).toEqual(['given', silent, 'differs']);
    expect(rows.filter(({ verdict }) => verdict === 'unknown').map(({ what }) => what)).toEqual([
      'Comms timeout',
      'Ramp to top speed',
      'Top speed',
      'Pulses per turn',
    ]);
    expect(rowOf(beside({ ended: 'It fell silent.' }), 'Asked to the end')).toEqual(['yes', 'It fell silent.', 'unknown']);
  });

  it('that only passes on has to be there, and no more', () => {
    const gateway = deviceNamed('Kiln gateway');
    const why = 'The gateway answers exception 10.';
    const steps = [...seen.steps.slice(0, 2), { name: 'answer' as const, passed: false, sentence: why }];
    const observed = { ...seen, name: gateway.name, asked: asked('Kiln gateway'), steps, held: [], ended: why };
    expect(foundTally(foundBeside(demo, gateway.id, observed))).toBe('as designed');
  });

  it('says who it is, where the design says that, and leaves open what it does not', () => {
    const named = {
      ...demo,
      devices: demo.devices.map((one) =>
        one === drive ? { ...one, identification: { ...noIdentification, productCode: 'FD 2', revision: '1.0' } } : one,
      ),
    };
    const says = { ...noIdentification, vendorName: 'Maker', productCode: 'FD 3', revision: ' 1.0 ' };
    const rows = beside({ identification: says }, named);
    expect(rowOf(rows, 'Its vendor')).toEqual(['not said', 'Maker', 'left open']);
    expect(rowOf(rows, 'Its product code')).toEqual(['FD 2', 'FD 3', 'differs']);
    expect(rowOf(rows, 'Its revision')).toEqual(['1.0', '1.0', 'same']);
    const mute = {
      identification: null,
      steps: [...seen.steps, { name: 'identify' as const, passed: true, sentence: 'It knows neither.' }],
    };
    expect(rowOf(beside(mute, named), 'Its product code')).toEqual(['FD 2', 'It knows neither.', 'unknown']);
  });

  it('is told by registers that it refuses, and by values that cannot be what the map says', () => {
    const status = demo.points.find(
      (point) => point.deviceId === drive.id && point.setting === null && point.access !== 'write' && point.type !== 'bit',
    )!;
    const at = { table: status.table, offset: status.offset };
    const refused = beside({ refused: [{ ...at, why: 'It answers exception 2.' }] });
    expect(rowOf(refused, 'Register map')).toEqual(['1 to be read', '0 read', 'differs']);
    expect(rowOf(refused, status.name)).toEqual(['can be read', 'It answers exception 2.', 'differs']);
    const coded = withPoint(status, { type: 'uint16', scale: null, codes: [{ value: 1, name: 'Runs' }] });
    const value = (word: number) => rowOf(beside({ held: [{ ...at, words: [word] }] }, coded), status.name);
    expect(value(1)).toBeUndefined();
    expect(value(7)).toEqual(['one of 1 Runs', '7, which has no name', 'differs']);
    const real = withPoint(status, { type: 'float32', order: 'ABCD', scale: null, codes: [] });
    expect(rowOf(beside({ held: [{ ...at, words: [0x7fc0, 0] }] }, real), status.name)).toEqual(['a number', 'NaN', 'differs']);
  });

  it('becomes the design where that is taken over, and then is as designed', () => {
    const rows = beside({ identification: { ...noIdentification, revision: '2.1' }, held: [...seen.held, held('Pulses per turn', 2048)] });
    const taken = applyChanges(demo, takeAsDesigned(demo, drive.id, rows));
    expect(taken.devices.find(({ id }) => id === drive.id)!.identification.revision).toBe('2.1');
    expect(taken.points.find(({ id }) => id === own('Ramp to top speed').id)!.setting).toEqual({ wanted: '7.5' });
    const again = foundBeside(taken, drive.id, { ...seen, identification: { ...noIdentification, revision: '2.1' } });
    expect(foundTally(again.filter(({ what }) => what !== 'Pulses per turn'))).toBe('as designed');
    const without = { ...demo, points: demo.points.filter(({ deviceId }) => deviceId !== drive.id), devices: [] };
    expect(takeAsDesigned(without, drive.id, rows)).toEqual([]);
  });
});

describe('A line as it was found', () => {
  const nobody = { identity: null, identification: null };
  const unit = (number: number, state: 'answers' | 'damaged' = 'answers'): FoundPlace => ({
    ...{ kind: 'unit', unit: number, state, sentence: 'gives a register', ...nobody },
  });
  const loft = lineNamed('Loft bus');
  const portsOn = (name: string) => demo.ports.filter(({ lineId }) => lineId === lineNamed(name).id);
  const nameOf = ({ deviceId }: { deviceId: string }) => demo.devices.find(({ id }) => id === deviceId)!.name;

  it('has who is there, is unexpected, answers differently, or is missing where it was looked for', () => {
    const found = [unit(20), unit(7), unit(5, 'damaged'), unit(1)];
    const rows = matchFound(loft, portsOn('Loft bus'), nameOf, found, { kind: 'units', first: 2, last: 2 });
    expect(rows.map(({ place, state, device }) => [place, state, device])).toEqual([
      ['unit 1', 'there', 'Grain cable 1'],
      ['unit 2', 'missing', 'Grain cable 2'],
      ['unit 5', 'differs', 'Grain cable 5 and Grain cable 6'],
      ['unit 7', 'unexpected', ''],
      ['unit 20', 'there', 'Loft humidity bridge'],
    ]);
    expect(rows[3]!.found).toEqual({ unitId: 7 });
  });

  it('is known by address and port on a network', () => {
    const host = (ip: string, port: number): FoundPlace => ({ kind: 'host', ip, port, state: 'answers', sentence: 'is there', ...nobody });
    const found = [host('10.40.8.77', 502), host('10.40.8.10', 502)];
    const swept = { kind: 'hosts', first: '10.40.8.1', last: '10.40.8.21', ports: [502] } as const;
    const rows = matchFound(lineNamed('Process net'), portsOn('Process net'), nameOf, found, { ...swept, ports: [...swept.ports] });
    expect(rows.map(({ place, state }) => `${place} ${state}`)).toEqual([
      '10.40.8.10 port 502 there',
      '10.40.8.11 port 502 missing',
      '10.40.8.21 port 502 missing',
      '10.40.8.77 port 502 unexpected',
    ]);
    expect(rows[3]!.found).toEqual({ ip: '10.40.8.77', tcpPort: 502 });
  });

  it('stands beside the design place by place, and as not known where it was not swept to the end', () => {
    const places = [unit(1), unit(2, 'damaged'), { ...unit(9), identity: 'Maker, X' }];
    const line = { kind: 'line' as const, name: loft.name, on: 'real' as const, places, swept: null };
    const rows = foundBeside(demo, loft.id, { ...line, ended: 'It ended here.' });
    expect(rows.map(({ what, designed, found, verdict }) => [what, designed, found, verdict])).toEqual([
      ['Who is there', '', 'It ended here.', 'unknown'],
      ['unit 1', 'Grain cable 1', 'gives a register', 'same'],
      ['unit 2', 'Grain cable 2', 'gives a register', 'unknown'],
      ['unit 9', 'nobody', 'gives a register; it says of itself: Maker, X', 'differs'],
    ]);
    expect(foundTally(foundBeside(demo, loft.id, { ...line, ended: null }))).toBe('2 differ');
  });
});

describe('What was seen', () => {
  it('is kept with when and by whom, the newest of each; what is of no form that is known is left out', () => {
    const at = (second: number) => `2026-11-29T14:05:0${second}.000Z`;
    const kept = (second: number, body: object) => ({
      kind: 'found',
      of: drive.id,
      at: at(second),
      by: 'A. Tester',
      revision: 3,
      body: body as Record<string, unknown>,
    });
    const rows = newestObserved([
      kept(0, seen),
      kept(1, { ...seen, on: 'real' }),
      kept(2, { kind: 'device' }),
      { ...kept(3, seen), kind: 'proof' },
    ]);
    expect(rows.get(drive.id)).toEqual({
      of: drive.id,
      revision: 3,
      atMs: Date.parse(at(1)),
      by: 'A. Tester',
      body: { ...seen, on: 'real' },
    });
    expect(Observed.parse(JSON.parse(JSON.stringify(seen)))).toEqual(seen);
  });
});
