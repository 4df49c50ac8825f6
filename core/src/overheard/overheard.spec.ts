import { compile } from '../compile/index.js';
import { rtuFrame } from '../codec/index.js';
import { requestPdu } from '../frame/index.js';
import { bodyOf, pointWidth, ProjectDocument } from '../model/index.js';
import { countedIds, recordedExchange as exchange, SmallProject } from '../testing/index.js';
import type { TraceRecord } from '../trace/index.js';
import { encode } from '../value/index.js';
import { guessAll, overhear, proposalOf, Requests } from './index.js';

const newId = countedIds('019aa777');

function heardIn(records: readonly TraceRecord[]) {
  const requests = new Requests();
  for (const record of records) requests.add(record);
  return requests.list();
}

const words = (value: number, type: 'float32' | 'uint32', order: 'ABCD' | 'CDAB') => {
  const encoded = encode(value, { type, order });
  return encoded.ok ? encoded.value.words : [];
};

describe('Questions in a recording', () => {
  it('have the period that most of them keep, whatever a late one or a retry does', () => {
    const times = Array.from({ length: 40 }, (_, index) => index * 500 + (index % 3) * 4);
    const records = times.map((atMs) => exchange({ atMs }, 10, [1, 2]));
    records.splice(20, 0, exchange({ atMs: times[19]! + 60, end: 'silent', got: null, ms: null }, 10, [1, 2]));
    const [heard] = heardIn(records);
    expect([heard!.seen, heard!.silent, heard!.answered]).toEqual([41, 1, 40]);
    expect(Math.abs(heard!.periodMs! / 500 - 1)).toBeLessThan(0.02);
    expect(heard!.responseMs).toEqual({ usual: 12, longest: 12 });
  });

  it('that are asked twice in each period are told apart from those asked twice as often', () => {
    const twice = Array.from({ length: 20 }, (_, index) => [index * 2000, index * 2000 + 60]).flat();
    expect(heardIn(twice.map((atMs) => exchange({ atMs }, 0, [5])))[0]!.periodMs).toBe(2000);
    const even = Array.from({ length: 40 }, (_, index) => index * 1000);
    expect(heardIn(even.map((atMs) => exchange({ atMs }, 0, [5])))[0]!.periodMs).toBe(1000);
  });

  it('seen once have no period', () => {
    expect(heardIn([exchange({ atMs: 5 }, 0, [1])])[0]!.periodMs).toBeNull();
  });
});

describe('What registers hold, by how they move', () => {
  const samples = (at: (index: number) => number[]) => Array.from({ length: 60 }, (_, index) => ({ atMs: index * 500, values: at(index) }));
  const told = (at: (index: number) => number[]) =>
    guessAll(samples(at)).map(({ at: place, width, type, order }) => `${place} ${type} ${width > 1 ? order : ''}`.trim());
  const wave = (index: number) => 21.7 + 3 * Math.sin(index / 7);

  it('is found for numbers of two registers in either order', () => {
    expect(told((index) => words(wave(index), 'float32', 'CDAB'))).toEqual(['0 float32 CDAB']);
    expect(told((index) => [...words(wave(index), 'float32', 'ABCD'), ...words(400 + wave(index), 'float32', 'ABCD')])).toEqual([
      '0 float32 ABCD',
      '2 float32 ABCD',
    ]);
    expect(told((index) => words(65_400 + 9 * index, 'uint32', 'CDAB'))).toEqual(['0 uint32 CDAB']);
  });

  it('is one register each where both go their own way, and where something is known to begin between them', () => {
    expect(told((index) => [200 + (index % 7), 400 + (index % 5)])).toEqual(['0 uint16', '1 uint16']);
    const isApart = (at: number) => at === 1;
    expect(
      guessAll(
        samples((index) => words(wave(index), 'float32', 'ABCD')),
        isApart,
      ).map(({ width }) => width),
    ).toEqual([1, 1]);
  });

  it('says numbers below 0, bits, texts and what never moved, each with the reason', () => {
    const guesses = guessAll(
      samples((index) => [
        65_530 + (index % 12) - (index % 12 > 5 ? 65_536 : 0),
        index % 2 ? 0x4100 : 0x4000,
        0x5041,
        0x4e45,
        0x4c31,
        0,
        7,
      ]),
    );
    expect(guesses.map(({ at, type }) => `${at} ${type}`)).toEqual(['0 int16', '1 bits', '2 string', '6 uint16']);
    expect(guesses.every(({ why }) => why.length > 10)).toBeTrue();
  });
});

describe('A project from a recording', () => {
  const records = Array.from({ length: 30 }, (_, index) => index * 1000).flatMap((atMs, index) => [
    exchange({ atMs, unit: 3 }, 100, [...words(50 + Math.sin(index / 4), 'float32', 'CDAB'), 0, 0, 9]),
    exchange({ atMs: atMs + 40, unit: 4 }, 0, [200 + index]),
    exchange({ atMs: atMs + 80, unit: 4 }, 20, [], [300 + (index % 9)]),
  ]);
  const { document, remarks } = proposalOf(heardIn(records), 'Heard', newId);
  const named = (name: string) => document.devices.find((device) => device.name === name)!;

  it('is whole, and asks the same questions in the same periods', () => {
    expect(ProjectDocument.parse(document)).toEqual(document);
    expect(remarks).toEqual([]);
    const { plan, findings } = compile(document);
    expect(findings.filter(({ severity }) => severity === 'stop')).toEqual([]);
    expect(
      plan.requests
        .filter(({ local }) => !local)
        .map(({ unitId, functionCode, offset, count, periodMs }) => [unitId, functionCode, offset, count, periodMs])
        .sort(),
    ).toEqual([
      [3, 3, 100, 5, 1000],
      [4, 3, 0, 1, 1000],
      [4, 6, 20, 1, 1000],
    ]);
  });

  it('has a gateway where several units answer at one address, and who asks at the address from which it asked', () => {
    expect(document.devices.map(({ name, kind }) => `${name}: ${kind}`)).toEqual([
      'Who asks: controller',
      'Gateway 10.1.1.9: gateway',
      'Unit 3 behind 10.1.1.9: field',
      'Unit 4 behind 10.1.1.9: field',
    ]);
    const ips = document.ports.flatMap((port) => (port.kind === 'ethernet' ? [port.ip] : []));
    expect(ips).toEqual(['10.1.1.2', '10.1.1.9']);
    expect(named('Unit 3 behind 10.1.1.9').delayMs).toBe(12);
  });

  it('has points with the reason for each guess, writable where they were written', () => {
    const unit3 = document.points.filter(({ deviceId }) => deviceId === named('Unit 3 behind 10.1.1.9').id);
    expect(unit3.map((point) => `${point.offset} ${point.type} ${pointWidth(point)} ${point.order}`)).toEqual([
      '100 float32 2 CDAB',
      '104 uint16 1 ABCD',
    ]);
    expect(unit3[0]!.note).toContain('read as float32 CDAB it moves gently between');
    const unit4 = document.points.filter(({ deviceId }) => deviceId === named('Unit 4 behind 10.1.1.9').id);
    expect(unit4.map(({ offset, access }) => [offset, access])).toEqual([
      [0, 'read'],
      [20, 'write'],
    ] as never);
  });

  it('of a serial line has the line, and says what it does not know', () => {
    const frames = [0, 1, 2].flatMap((at) => [
      ...rtuFrame({ unit: 7, pdu: requestPdu({ functionCode: 4, offset: 2, count: 1 }) }),
      ...rtuFrame({ unit: 7, pdu: Uint8Array.of(4, 2, 1, at) }),
    ]);
    const heard = overhear(Uint8Array.from(frames), 'Line', newId);
    if (!heard.ok) return fail(heard.problem.message);
    expect(heard.value.document.lines.map(({ kind }) => kind).sort()).toEqual(['ethernet', 'serial']);
    expect(heard.value.remarks).toEqual(['It has no times, so nothing is known of periods: all is asked every 10 s.']);
    expect(
      compile(heard.value.document)
        .plan.requests.filter(({ local }) => !local)
        .map(({ unitId, functionCode }) => [unitId, functionCode]),
    ).toEqual([[7, 4]]);
  });

  it('is not made of what holds no frame, or none that reaches a register', () => {
    const problem = (bytes: Uint8Array) => {
      const heard = overhear(bytes, 'x', newId);
      return heard.ok ? null : heard.problem.message;
    };
    expect(problem(new TextEncoder().encode('Dear reader'))).toContain('No frame of a serial line is in it');
    expect(problem(rtuFrame({ unit: 7, pdu: Uint8Array.of(17) }))).toContain('no question among them reaches a register');
  });
});

describe('A device that was heard and is kept', () => {
  const records = Array.from({ length: 30 }, (_, index) => index).flatMap((index) => [
    exchange({ atMs: index * 500, unit: 7 }, 0, [index * 3, ...words(20 + index / 7, 'float32', 'CDAB'), 100 + index]),
    exchange({ atMs: index * 500 + 100, unit: 8 }, 40, [index, index * 2, 5 + index, 9]),
  ]);
  const made = new SmallProject();
  const kept = made.device('Mixer');
  for (const [offset, name, type] of [
    [0, 'State', 'uint16'],
    [1, 'Torque', 'float32'],
    [3, 'Level', 'uint16'],
  ] as const)
    made.point(kept, name, {
      offset,
      type,
      order: 'CDAB',
      unit: name === 'Torque' ? 'Nm' : '',
      note: name === 'State' ? 'From its manual' : '',
    });
  const maps = [{ name: 'Mixer', points: made.document.points.map((point) => ({ ...bodyOf(point), place: point.place })) }];

  it('has its name and what its map says of each value, on both ends; another stays without', () => {
    const { document, remarks } = proposalOf(heardIn(records), 'Heard', newId, maps);
    const mixer = document.devices.find(({ name }) => name === 'Mixer')!;
    expect(document.devices.map(({ name }) => name)).toContain('Unit 8 behind 10.1.1.9');
    const own = document.points.filter(({ deviceId }) => deviceId === mixer.id);
    expect(own.map(({ name, type, unit, access }) => [name, type, unit, access])).toEqual([
      ['State', 'uint16', '', 'read'],
      ['Torque', 'float32', 'Nm', 'read'],
      ['Level', 'uint16', '', 'read'],
    ]);
    expect(own[0]!.note).toMatch(/^From its manual\nAs it was heard/);
    expect(document.points.map(({ name }) => name)).toContain('Mixer Torque');
    expect(remarks).toContain('Unit 7 behind 10.1.1.9 has the registers of “Mixer” of the library, and is called Mixer.');
    expect(compile(document).findings.filter(({ severity }) => severity === 'stop')).toEqual([]);
  });

  it('is asked the same whether or not it is known', () => {
    const requests = (all: typeof maps) =>
      compile(proposalOf(heardIn(records), 'Heard', newId, all).document).plan.requests.map(({ unitId, table, offset, count, periodMs }) =>
        [unitId, table, offset, count, periodMs].join(' '),
      );
    expect(requests(maps)).toEqual(requests([]));
  });
});
