import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import {
  buildFrame,
  type CanSignal,
  type IdentifierBits,
  learnSignals,
  type LoggedFrame,
  readCanCsv,
  readCanLog,
  sniff,
  writeCanCsv,
  writeCanLog,
} from './index.js';

const frame: fc.Arbitrary<LoggedFrame> = fc
  .record({
    atS: fc.nat(2_000_000_000).map((value) => value / 1000),
    on: fc.constantFrom('can0', 'vcan1'),
    identifierBits: fc.constantFrom<IdentifierBits>(11, 29),
    identifier: fc.nat(0x7ff),
    data: fc.uint8Array({ maxLength: 8 }),
    isRemote: fc.boolean(),
  })
  .map(({ isRemote, data, ...rest }) => ({ ...rest, ...(isRemote ? { isRemote, data: new Uint8Array(data.length) } : { data }) }));

describe('A log of frames', () => {
  it('is read back as it was written, as text and as CSV', () => {
    fc.assert(
      fc.property(fc.array(frame, { maxLength: 20 }), (frames) => {
        expect(readCanLog(writeCanLog(frames))).toEqual({ frames, problems: [] });
        expect(readCanCsv(writeCanCsv(frames))).toEqual({ frames, problems: [] });
      }),
    );
  });

  it('is in the usual form', () => {
    const { frames, problems } = readCanLog(
      ['# a remark', '(1699000000.123456) can0 18FF1003#7D0180', '', '(1699000000.200000) can0 123#R4', '(3.5) can1 07F#DE.AD R'].join(
        '\r\n',
      ),
    );
    expect(problems).toEqual([]);
    expect(
      frames.map(({ atS, on, identifierBits, identifier, data, isRemote }) => [atS, on, identifierBits, identifier, [...data], isRemote]),
    ).toEqual([
      [1699000000.123456, 'can0', 29, 0x18ff1003, [0x7d, 1, 0x80], undefined],
      [1699000000.2, 'can0', 11, 0x123, [0, 0, 0, 0], true],
      [3.5, 'can1', 11, 0x7f, [0xde, 0xad], undefined],
    ]);
    expect(writeCanLog(frames)).toContain('(1699000000.123456) can0 18FF1003#7D0180\n(1699000000.200000) can0 123#R4\n');
  });

  it('keeps what is right of it, and says of each line that is no frame why not', () => {
    const { frames, problems } = readCanLog(
      [
        'hello',
        '(1.0) can0 123##1AABB',
        '(1.0) can0 1234#00',
        '(1.0) can0 20000004#0000',
        '(1.0) can0 123#1',
        '(1.0) can0 123#001122334455667788',
        '(1.0) can0 FFF#00',
        '(1.0) can0 123#R9',
        '(1.0) can0 123#00',
      ].join('\n'),
    );
    expect(frames.length).toBe(1);
    expect(problems.map(({ line, message }) => `${line}: ${message}`)).toEqual([
      '1: It is not of the form (time) interface identifier#data.',
      '2: It is a frame of the longer kind (CAN FD), which is not read.',
      '3: Its identifier has 4 figures, and not 3 or 8.',
      '4: It tells of an error on the bus, and is no frame.',
      '5: The number of hex digits is odd: the last, 1, is half a byte.',
      '6: It has 9 bytes, and a frame has 8 at most.',
      '7: 00000FFF has more than 11 bits: they end at 7FF.',
      '8: “9” is no length of a frame.',
    ]);
    const csv = readCanCsv('Time;Identifier;Bits;Data\n1.5;0x123;11;"AA BB"\nx;123;11;\n1;zz;11;\n1;123;12;\n');
    expect(csv.frames.map(({ on, data }) => [on, [...data]])).toEqual([['can0', [0xaa, 0xbb]]]);
    expect(csv.problems.map(({ line, message }) => `${line}: ${message}`)).toEqual([
      '3: “x” is no time in seconds.',
      '4: “zz” is no identifier in hex.',
      '5: “12” is no number of bits that an identifier has.',
    ]);
    expect(readCanCsv('a,b\n1,2').problems).toEqual([{ line: 1, message: 'There is no column time, identifier, bits, data.' }]);
  });

  it('never fails, whatever it is', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) => void [readCanLog(text), readCanCsv(text)]));
    expect(readCanLog(JSON.stringify(fernhollow())).frames).toEqual([]);
  });
});

/** Frames every 100 ms, as `values` says by their number. */
function recorded(signals: readonly CanSignal[], values: (index: number) => Record<string, number>, count = 200): Uint8Array[] {
  return Array.from({ length: count }, (_, index) => buildFrame(values(index), signals, 8).data);
}

const signal = (name: string, fields: Partial<CanSignal>): CanSignal => ({
  ...{ name, firstBit: 0, bits: 16, order: 'little', signed: false, factor: 1, offset: 0, float: false },
  ...fields,
});

describe('What is seen of each identifier', () => {
  it('is how often it comes, how evenly, and which bits move', () => {
    const at = (atS: number, data: number[], identifier = 0x100): LoggedFrame => ({
      atS,
      on: 'can0',
      identifierBits: 11,
      identifier,
      data: Uint8Array.from(data),
    });
    const seen = sniff([at(0, [0, 1]), at(0.1, [0, 3]), at(0.21, [128, 3]), at(0.3, [128, 3]), at(0.05, [], 0x0ff)]);
    expect(seen.map(({ identifier }) => identifier))
      .withContext('who wins arbitration is first')
      .toEqual([0x0ff, 0x100]);
    expect(seen[0]).toEqual(jasmine.objectContaining({ count: 1, periodMs: null, jitterMs: null, bytes: [0, 0], movedBits: [] }));
    expect(seen[1]).toEqual(
      jasmine.objectContaining({ count: 4, periodMs: 100, jitterMs: 10, bytes: [2, 2], movedBits: [7, 9], remote: 0 }),
    );
  });
});

describe('Signals that frames show by how they move', () => {
  const found = (frames: readonly Uint8Array[]) =>
    learnSignals(frames).map(({ kind, signal: { firstBit, bits, order, signed } }) => [
      kind,
      firstBit,
      bits,
      bits > 8 ? order : '',
      signed,
    ]);

  it('are numbers in the order in which they move, counters, single bits and checksums', () => {
    const signals = [
      signal('position', { firstBit: 0 }),
      signal('speed', { firstBit: 23, order: 'big', signed: true }),
      signal('running', { firstBit: 37, bits: 1 }),
      signal('sequence', { firstBit: 40, bits: 8 }),
    ];
    const frames = recorded(signals, (index) => ({
      position: 381 + 37 * index,
      speed: Math.round(600 * Math.sin(index / 9)),
      running: Number(index % 60 < 30),
      sequence: index & 0xff,
    }));
    for (const data of frames) data[7] = data.subarray(0, 7).reduce((check, byte) => check ^ byte, 0);
    expect(found(frames)).toEqual([
      ['number', 0, 16, 'little', false],
      ['number', 23, 16, 'big', true],
      ['flag', 37, 1, '', false],
      ['counter', 40, 8, '', false],
      ['check', 56, 8, '', false],
    ]);
    expect(learnSignals(frames).at(-1)!.why).toBe('It is the xor8 of all other bytes, in each of 200 frames.');
  });

  it('are words of four bytes, counters of two bytes and of half a one, and bytes', () => {
    const signals = [
      signal('energy', { firstBit: 7, bits: 32, order: 'big' }),
      signal('number', { firstBit: 32 }),
      signal('half', { firstBit: 52, bits: 4 }),
      signal('level', { firstBit: 56, bits: 8 }),
    ];
    const frames = recorded(
      signals,
      (index) => ({ energy: 65_000 + 900 * index, number: 250 + index, half: index & 15, level: [3, 90, 41, 200, 7][index % 5]! }),
      400,
    );
    expect(found(frames)).toEqual([
      ['number', 7, 32, 'big', false],
      ['counter', 32, 16, 'little', false],
      ['counter', 52, 4, '', false],
      ['number', 56, 8, '', false],
    ]);
  });

  it('are found in as many frames as there may be, in a moment', () => {
    const signals = [signal('position', {}), signal('sequence', { firstBit: 16, bits: 8 })];
    const frames = recorded(signals, (index) => ({ position: (37 * index) & 0xffff, sequence: index & 0xff }), 20_000);
    expect(found(frames)).toEqual([
      ['number', 0, 16, 'little', false],
      ['counter', 16, 8, '', false],
    ]);
  });

  it('are none where too little was seen, or nothing moves', () => {
    expect(learnSignals(recorded([signal('a', {})], (index) => ({ a: index }), 5))).toEqual([]);
    expect(learnSignals(recorded([signal('a', {})], () => ({ a: 5 })))).toEqual([]);
    expect(learnSignals([])).toEqual([]);
  });
});
