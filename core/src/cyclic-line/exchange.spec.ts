import { type CarriedLink, linkOn } from '../converter/index.js';
import { fernhollow } from '../demo/index.js';
import type { CyclicLine } from '../media/index.js';
import { blankPoint, type Point, pointWidth } from '../model/index.js';
import type { FarPlace } from '../place/index.js';
import { PreparedLink } from '../link-program/index.js';
import { type BlockProgram, blockLeavesWithinMs, blockRefreshOf, LinkExchange, readDatagram, writeDatagram } from './index.js';

const demo = fernhollow();
const drawn = demo.lines.find((line): line is CyclicLine => line.kind === 'cyclic')!;
const ids = { projectId: demo.project.id, deviceId: demo.devices.find(({ name }) => name === 'Silo conveyor')!.id };

type Block = Extract<FarPlace, { kind: 'cyclic' }>;
const at = (block: Block['block'], byte: number, bits: number, fields: Partial<Block> = {}): Pick<Point, 'place'> => ({
  place: { kind: 'cyclic', block, byte, bit: 0, bits, order: 'little', pinned: false, ...fields },
});
const told = (state: Extract<FarPlace, { kind: 'linkState' }>['state']): Pick<Point, 'place'> => ({
  place: { kind: 'linkState', state, pinned: false },
});
const points = (
  [
    { name: 'Speed', type: 'int16', ...at('input', 2, 16) },
    { name: 'Carried', type: 'uint32', ...at('input', 4, 32, { order: 'big' }) },
    { name: 'Runs', type: 'bit', bit: 0, ...at('input', 0, 1, { bit: 3 }) },
    { name: 'Valid', type: 'bit', bit: 1, ...told('valid') },
    { name: 'Missed', type: 'uint16', ...told('missed') },
    { name: 'Lost', type: 'uint16', ...told('lost') },
    { name: 'Release', type: 'uint16', ...at('output', 0, 8) },
    { name: 'Wanted', type: 'int16', ...at('output', 2, 16) },
  ] as const
).map((point, index): Point => ({ ...blankPoint({ id: `p ${index}`, ...ids }), ...point }) as Point);

function memory(start: Record<string, number[]> = {}) {
  const words = new Map(Object.entries(start));
  return {
    words,
    read: (point: Point) => words.get(point.name) ?? Array.from({ length: point.type === 'bit' ? 1 : pointWidth(point) }, () => 0),
    write: (point: Point, value: readonly number[]) => void words.set(point.name, [...value]),
  };
}

/** Both ends of a link on a clock of their own, and what is between them. */
function both(
  fields: Partial<CyclicLine> = {},
  stationSizes = { inputBytes: 8, outputBytes: 4 },
  programOf: (link: CarriedLink) => BlockProgram | null = () => null,
) {
  const line: CyclicLine = { ...drawn, inputBytes: 8, outputBytes: 4, outputValidByte: null, whenLost: 'hold', ...fields };
  const link: CarriedLink = { line, stationId: ids.deviceId, stationName: 'Conveyor', points };
  const between: { to: 'opener' | 'station'; datagram: Uint8Array }[] = [];
  const wire = { isCut: false, spoil: (datagram: Uint8Array): Uint8Array[] => [datagram] };
  const end = (as: 'opener' | 'station') => {
    const kept = memory(as === 'station' ? { Speed: [0xfffe], Carried: [1, 2], Runs: [1] } : { Release: [1], Wanted: [300] });
    const sizes = as === 'station' ? stationSizes : { inputBytes: 8, outputBytes: 4 };
    const to = as === 'station' ? 'opener' : 'station';
    const send = (datagram: Uint8Array) => {
      if (!wire.isCut) for (const one of wire.spoil(datagram)) between.push({ to, datagram: one });
    };
    const program = as === 'opener' ? programOf(link) : null;
    return { ...kept, exchange: new LinkExchange({ link, as, sizes, memory: kept, program, send }) };
  };
  const ends = { opener: end('opener'), station: end('station') };
  let nowMs = 0;
  const run = (ms: number) => {
    for (const until = nowMs + ms; nowMs < until; nowMs += 10) {
      for (const one of [ends.opener, ends.station]) one.exchange.step(nowMs);
      for (const { to, datagram } of between.splice(0)) ends[to].exchange.hear(datagram, nowMs);
    }
  };
  const state = (of: 'opener' | 'station') => ends[of].exchange.portState(nowMs);
  return { ...ends, run, state, wire, between, now: () => nowMs };
}

describe('A cyclic link between two ends', () => {
  it('brings values of the station, and takes values to it, in either order of bytes', () => {
    const { opener, station, run, state } = both();
    run(1000);
    expect([...opener.words].filter(([name]) => ['Speed', 'Carried', 'Runs', 'Valid'].includes(name))).toEqual([
      ['Valid', [1]],
      ['Speed', [0xfffe]],
      ['Carried', [1, 2]],
      ['Runs', [1]],
    ]);
    expect([station.words.get('Wanted'), station.words.get('Release')]).toEqual([[300], [1]]);
    expect([state('opener').state, state('opener').input, state('opener').output]).toEqual([
      'running',
      '08 00 FE FF 00 01 00 02',
      '01 00 2C 01',
    ]);
    expect([state('opener').heard, state('station').sent]).toEqual([10, 10]);
  });

  it('does the same by the program of a controller, which says that the outputs are valid where they are', () => {
    const { opener, station, run, state } = both({ outputValidByte: 0, outputValidValue: 1 }, undefined, (link) => new PreparedLink(link));
    run(1000);
    expect(['Speed', 'Carried', 'Runs'].map((name) => opener.words.get(name))).toEqual([[0xfffe], [1, 2], [1]]);
    expect([station.words.get('Wanted'), state('opener').output, state('station').state]).toEqual([[300], '01 00 2C 01', 'running']);
    expect(state('opener').program).toEqual({ runs: state('opener').heard + state('opener').sent, problem: null });
    opener.words.set('Release', [2]);
    run(200);
    expect([state('opener').output, state('station').state])
      .withContext('the byte says something else')
      .toEqual(['00 00 2C 01', 'not valid']);
    expect(state('station').program).toBeNull();
  });

  it('does it itself where such a program does not run, and says so', () => {
    const problem = 'Line 3: something is missing.';
    const idle: BlockProgram = { runs: 0, problem, read: () => new Map([['p 0', [7]]]), write: () => new Uint8Array(4) };
    const { opener, station, run, state } = both({}, undefined, () => idle);
    run(1000);
    expect([opener.words.get('Speed'), station.words.get('Wanted'), state('opener').program]).toEqual([
      [0xfffe],
      [300],
      { runs: 0, problem },
    ]);
  });

  it('is refused by a station of other sizes, and both ends say which', () => {
    const { opener, run, state } = both({}, { inputBytes: 8, outputBytes: 6 });
    run(3000);
    expect([state('opener').state, state('opener').problem]).toEqual([
      'refused',
      'It has 8 bytes in and 6 out, and is opened with 8 bytes in and 4 out.',
    ]);
    expect([state('station').state, state('station').problem]).toEqual([
      'refused',
      'It was opened with 8 bytes in and 4 out, and has 8 bytes in and 6 out.',
    ]);
    expect([opener.words.get('Valid'), opener.words.get('Speed')]).toEqual([[0], undefined]);
  });

  it('gives outputs to the station only while their validity byte is set, and holds them or sets them to zero else', () => {
    for (const [whenLost, then] of [
      ['hold', [300]],
      ['zero', [0]],
    ] as const) {
      const { opener, station, run, state } = both({ outputValidByte: 0, outputValidValue: 1, whenLost });
      opener.words.set('Release', [0]);
      run(500);
      expect([station.words.get('Wanted') ?? [0], state('station').state]).toEqual([[0], 'not valid']);
      opener.words.set('Release', [1]);
      run(500);
      expect([station.words.get('Wanted'), state('station').state]).toEqual([[300], 'running']);
      opener.words.set('Release', [2]);
      run(500);
      expect(station.words.get('Wanted'))
        .withContext(whenLost)
        .toEqual([...then]);
    }
  });

  it('does not take inputs that say that they are not valid, and tells so', () => {
    const { opener, station, run, state } = both({ inputValidByte: 0, inputValidValue: 8 });
    run(500);
    station.words.set('Runs', [0]).set('Speed', [7]);
    run(500);
    expect([opener.words.get('Speed'), opener.words.get('Valid'), state('opener').state]).toEqual([[0xfffe], [0], 'not valid']);
  });

  it('is lost when more updates stay away than may, and opened again when they come', () => {
    const { opener, station, run, state, wire } = both({ whenLost: 'zero' });
    run(1000);
    wire.isCut = true;
    run(400);
    expect(state('opener').state).toBe('running');
    run(300);
    expect([state('opener').state, state('station').state, opener.words.get('Valid')]).toEqual(['lost', 'lost', [0]]);
    expect([station.words.get('Wanted'), opener.words.get('Speed')]).toEqual([[0], [0xfffe]]);
    expect(opener.exchange.ageOf(2000)).toBeNull();
    wire.isCut = false;
    run(1500);
    expect([state('opener').state, station.words.get('Wanted'), opener.words.get('Valid')]).toEqual(['running', [300], [1]]);
    expect([opener.words.get('Lost'), state('opener').problem]).toEqual([[1], null]);
  });

  it('counts what stayed away by its numbers, and takes nothing twice or late', () => {
    const { opener, run, state, wire, between, now } = both();
    run(1000);
    let count = 0;
    wire.spoil = (datagram) => (count++ % 4 === 0 ? [] : [datagram, datagram]);
    run(1000);
    wire.spoil = (datagram) => [datagram];
    const { missed, doubled, lost } = state('opener');
    expect(missed).toBeGreaterThan(1);
    expect(doubled).toBeGreaterThan(4);
    expect(lost).toBe(0);
    const old = writeDatagram({ kind: 'block', number: 3, data: Uint8Array.of(0, 0, 1, 0, 0, 0, 0, 0) });
    opener.exchange.hear(old, now());
    expect(opener.words.get('Speed')).withContext('one of long ago').toEqual([0xfffe]);
    expect(between.length).toBe(0);
  });

  it('goes on with what it said last where a value does not fit, and says which', () => {
    const { opener, run, state } = both();
    run(300);
    opener.words.set('Release', [256]);
    run(300);
    expect([state('opener').output, state('station').state]).toEqual(['01 00 2C 01', 'running']);
    expect(state('opener').problem).toMatch(/Release.*256/);
  });

  it('changes no value by whatever comes that is not a block of an open link', () => {
    const { opener, run, now } = both();
    run(300);
    const before = [...opener.words].filter(([name]) => ['Speed', 'Carried', 'Runs'].includes(name));
    let seed = 7;
    const random = () => (seed = (seed * 1_103_515_245 + 12_345) & 0x7fffffff) / 0x7fffffff;
    for (let turn = 0; turn < 50_000; turn++) {
      const bytes = Uint8Array.from({ length: Math.floor(random() * 20) }, () => Math.floor(random() * 256));
      // What is a block of its size is one: over UDP a checksum keeps damaged ones away.
      if (bytes[0] === 4 && bytes[1] === 1 && bytes.length === 12) continue;
      opener.exchange.hear(bytes, now());
    }
    expect([...opener.words].filter(([name]) => ['Speed', 'Carried', 'Runs'].includes(name))).toEqual(before);
  });
});

describe('Datagrams of a cyclic link', () => {
  const hex = (bytes: Uint8Array) => [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');

  it('are as they are written down', () => {
    expect(hex(writeDatagram({ kind: 'open', inputBytes: 16, outputBytes: 12, intervalMs: 100 }))).toBe('010100000010000c00000064');
    expect(hex(writeDatagram({ kind: 'refused', inputBytes: 16, outputBytes: 300, intervalMs: 1 }))).toBe('030100000010012c00000001');
    expect(hex(writeDatagram({ kind: 'block', number: 0xfffe, data: Uint8Array.of(1, 2) }))).toBe('0401fffe0102');
  });

  it('are read back the same, and refused where they are cut, of another kind or version', () => {
    for (const datagram of [
      { kind: 'opened', inputBytes: 1, outputBytes: 2, intervalMs: 3 },
      { kind: 'block', number: 65_535, data: Uint8Array.of() },
    ] as const)
      expect(readDatagram(writeDatagram(datagram))).toEqual({ ok: true, value: datagram });
    const why = (...bytes: number[]) => {
      const read = readDatagram(Uint8Array.from(bytes));
      return read.ok ? null : read.problem.message;
    };
    expect([why(4, 1), why(5, 1, 0, 0), why(4, 2, 0, 0), why(1, 1, 0, 0, 0)]).toEqual([
      'It has 2 of at least 4 bytes.',
      'No datagram of a cyclic link is of kind 5.',
      'It is of version 2, and 1 is known.',
      'It has 5 of 12 bytes.',
    ]);
  });
});

describe('The age of a value of a cyclic block', () => {
  it('is up to its interval and what carries it, and what is written leaves within two', () => {
    const point = (name: string) => demo.points.find((row) => row.deviceId === ids.deviceId && row.name === name)!;
    expect(blockRefreshOf(demo, point('Belt speed'))).toEqual({ meanMs: 55, worstMs: 110 });
    expect([blockRefreshOf(demo, point('Number')), blockRefreshOf(demo, point('Link is valid'))]).toEqual([null, null]);
    expect([blockLeavesWithinMs(demo, point('Number')), linkOn(demo, drawn.id)!.stationName]).toEqual([200, 'Silo conveyor']);
    expect(linkOn(demo, demo.lines[0]!.id)).toBeNull();
  });
});
