import fc from 'fast-check';
import { toHex } from '../frame/index.js';
import {
  type Asdu,
  asduType,
  asduTypes,
  buildAsdu,
  buildFrame104,
  causeText,
  explainFrame104,
  type Frame104,
  type Held,
  nextCounter,
  objectsIn,
  readAsdu,
  readFrame104,
  Stream104,
} from './index.js';
import { bytesOf, IEC104_NOON, iec104Vectors } from '../testing/index.js';

const asdu = (fields: Partial<Asdu> = {}): Asdu => ({
  ...{ type: 1, isSequence: false, cause: 3, isNegative: false, isTest: false, originator: 0, station: 12 },
  objects: [{ address: 1, held: { value: 1 } }],
  ...fields,
});
const built = (one: Asdu) => {
  const made = buildAsdu(one);
  return made.ok ? toHex(made.value) : made.problem.message;
};

describe('an ASDU', () => {
  for (const { hex, type, held, says } of iec104Vectors)
    it(`of type ${type} is as the standard has it`, () => {
      const one = asdu({
        type,
        cause: asduType(type)!.direction === 'control' ? 6 : type === 70 ? 4 : 3,
        objects: [{ address: 0x020065, held }],
      });
      expect(built(one)).toBe(hex);
      const read = readAsdu(bytesOf(hex))!;
      expect(read.problems).toEqual([]);
      expect(read.asdu.objects[0]!.held).toEqual(jasmine.objectContaining(held));
      const frame = buildFrame104({ kind: 'numbered', sent: 0, received: 0, asdu: bytesOf(hex) });
      expect(explainFrame104(frame).sentence).toBe(`Station 12: ${asduType(type)!.name}, ${causeText(one.cause)}: 131173 ${says}.`);
    });

  it('has one address for objects that follow each other, and one for each where they do not', () => {
    const two = [5, 6].map((address) => ({ address, held: { value: 1 } }));
    expect(built(asdu({ objects: two }))).toBe('01 02 03 00 0C 00 05 00 00 01 06 00 00 01');
    expect(built(asdu({ objects: two, isSequence: true }))).toBe('01 82 03 00 0C 00 05 00 00 01 01');
    expect(built(asdu({ objects: [two[1]!, two[0]!], isSequence: true }))).toBe(
      'Object 5 does not follow the one before, so that it is none of a sequence.',
    );
    expect(readAsdu(bytesOf('01 82 43 07 0C 01 05 00 00 01 80'))!.asdu).toEqual(
      jasmine.objectContaining({ isSequence: true, isNegative: true, cause: 3, originator: 7, station: 268 }),
    );
  });

  it('is not built of too much, of nothing, or of what there is not', () => {
    expect([objectsIn(asduType(1)!, false), objectsIn(asduType(1)!, true), objectsIn(asduType(36)!, false)]).toEqual([60, 127, 16]);
    const many = Array.from({ length: 61 }, (_, address) => ({ address, held: { value: 0 } }));
    expect(built(asdu({ objects: many }))).toBe('61 objects of type 1 do not fit; one frame takes 60.');
    expect(built(asdu({ objects: [] }))).toBe('There is no object in it.');
    expect(built(asdu({ type: 2 }))).toBe('Type 2 is not known.');
    expect(built(asdu({ objects: [{ address: 2 ** 24, held: {} }] }))).toContain('more than three octets');
  });

  it('says what is wrong with one that is damaged', () => {
    const wrong = (hex: string) => readAsdu(bytesOf(hex))?.problems ?? null;
    expect(wrong('01 01 03')).toBeNull();
    expect(wrong('01 02 03 00 0C 00 05 00 00 01')).toEqual(['It has 2 objects, but ends in the 2nd.']);
    expect(wrong('01 01 03 00 0C 00 05 00 00 01 99')).toEqual(['After its objects 1 octets are left.']);
    expect(wrong('01 00 00 00 0C 00')).toEqual(['It says that there is no object in it.', 'Its cause is 0, which there is none.']);
    expect(wrong('02 01 03 00 0C 00 05')).toEqual(['Type 2 is not known.']);
    expect(wrong('2E 01 06 00 0C 00 05 00 00 03')).toEqual(['Object 5: its double command is none that there is.']);
    expect(wrong('67 01 06 00 0C 00 00 00 00 00 00 00 0C 3F 0D 17')).toEqual(['Object 0: its time is none that there is.']);
  });

  it('gives back what was put in, of every type', () => {
    const time = fc.record({ atMs: fc.integer({ min: 0, max: Date.UTC(2069, 0) }), invalid: fc.boolean(), summer: fc.boolean() });
    const flags = fc.record({ invalid: fc.boolean(), notTopical: fc.boolean(), substituted: fc.boolean(), blocked: fc.boolean() });
    const value: Record<string, fc.Arbitrary<Held>> = {
      'single point': fc.tuple(fc.nat(1), flags).map(([one, rest]) => ({ value: one, ...rest })),
      'double point': fc.tuple(fc.nat(3), flags).map(([one, rest]) => ({ value: one, ...rest })),
      quality: fc.tuple(fc.boolean(), flags).map(([overflow, rest]) => ({ overflow, ...rest })),
      'normalised value': fc.integer({ min: -32_768, max: 32_767 }).map((one) => ({ value: one / 32_768 })),
      'scaled value': fc.integer({ min: -32_768, max: 32_767 }).map((one) => ({ value: one })),
      'floating-point value': fc.float({ noNaN: true }).map((one) => ({ value: one })),
      counter: fc.record({
        ...{ value: fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }), sequence: fc.nat(31) },
        ...{ carry: fc.boolean(), adjusted: fc.boolean(), invalid: fc.boolean() },
      }),
      'single command': fc.record({ value: fc.nat(1), qualifier: fc.nat(31), select: fc.boolean() }),
      'double command': fc.record({ value: fc.integer({ min: 1, max: 2 }), qualifier: fc.nat(31), select: fc.boolean() }),
      'set-point qualifier': fc.record({ qualifier: fc.nat(127), select: fc.boolean() }),
      'cause of the start': fc.record({ value: fc.nat(127), changed: fc.boolean() }),
      'what is asked': fc.record({ value: fc.nat(255) }),
      'which counters': fc.record({ value: fc.nat(63), freeze: fc.nat(3) }),
      time: time.map((one) => ({ time: one })),
    };
    const whole = fc.constantFrom(...asduTypes).chain((type) =>
      fc.record({
        ...{ type: fc.constant(type.id), isSequence: fc.boolean(), cause: fc.integer({ min: 1, max: 47 }), isNegative: fc.boolean() },
        ...{ isTest: fc.boolean(), originator: fc.nat(255), station: fc.nat(65_535) },
        objects: fc
          .tuple(
            fc.nat(2 ** 24 - 20),
            fc.array(fc.tuple(...type.elements.map(({ name }) => value[name]!)), { minLength: 1, maxLength: 10 }),
          )
          .map(([address, all]) => all.map((parts, index) => ({ address: address + index, held: Object.assign({}, ...parts) as Held }))),
      }),
    );
    fc.assert(
      fc.property(whole, (one) => {
        const made = buildAsdu(one);
        const read = made.ok ? readAsdu(made.value)! : null;
        expect(read?.problems).toEqual([]);
        expect(read?.asdu).toEqual(one);
      }),
    );
  });
});

describe('a frame of IEC 60870-5-104', () => {
  const frames: [Frame104, string][] = [
    [{ kind: 'service', service: 'start' }, '68 04 07 00 00 00'],
    [{ kind: 'service', service: 'start confirmed' }, '68 04 0B 00 00 00'],
    [{ kind: 'service', service: 'stop' }, '68 04 13 00 00 00'],
    [{ kind: 'service', service: 'stop confirmed' }, '68 04 23 00 00 00'],
    [{ kind: 'service', service: 'test' }, '68 04 43 00 00 00'],
    [{ kind: 'service', service: 'test confirmed' }, '68 04 83 00 00 00'],
    [{ kind: 'receipt', received: 300 }, '68 04 01 00 58 02'],
    [
      { kind: 'numbered', sent: 1, received: 32_767, asdu: bytesOf('64 01 06 00 0C 00 00 00 00 14') },
      '68 0E 02 00 FE FF 64 01 06 00 0C 00 00 00 00 14',
    ],
  ];

  it('is as the standard has it, both ways', () => {
    for (const [frame, hex] of frames) {
      expect(toHex(buildFrame104(frame))).toBe(hex);
      expect(readFrame104(bytesOf(hex))).toEqual({ ok: true, value: frame });
    }
    expect([nextCounter(0), nextCounter(32_767)]).toEqual([1, 0]);
  });

  it('is told octet by octet', () => {
    const { fields, sentence } = explainFrame104(bytesOf('68 0E 02 00 00 00 03 01 03 00 0C 00 65 00 00 02'));
    expect(sentence).toBe('Station 12: double point, spontaneous: 101 on.');
    expect(fields.map(({ name, hex }) => `${name} ${hex}`)).toEqual([
      ...['start 68', 'length 0E', 'sent 02 00', 'received 00 00', 'type 03', 'number 01', 'cause 03', 'originator 00', 'station 0C 00'],
      ...['object 65 00 00', 'double point 02'],
    ]);
    expect(explainFrame104(bytesOf('68 04 43 00 00 00')).sentence).toBe('The other side is asked whether it is there (TESTFR act).');
    expect(explainFrame104(bytesOf('68 04 01 00 04 00')).sentence).toBe('All frames before number 2 have come.');
    const refused = explainFrame104(bytesOf('68 0E 00 00 00 00 2D 01 47 00 0C 00 01 00 00 81'));
    expect(refused.sentence).toBe('Station 12: single command, activation confirmed, refused: 1 on, only selected.');
  });

  it('is refused with a reason where it is none', () => {
    const why = (hex: string) => {
      const read = readFrame104(bytesOf(hex));
      return read.ok ? null : read.problem.message;
    };
    expect(why('67 04 07 00 00 00')).toBe('It begins with 67, and not with 68.');
    expect(why('68')).toBe('It ends before its length.');
    expect(why('68 03 07 00 00')).toBe('Its length is 3; there are 4 to 253 octets after it.');
    expect(why('68 05 07 00 00 00')).toBe('Its length says 5 octets after it, and there are 4.');
    expect(why('68 05 07 00 00 00 00')).toBe('It is a service, which has nothing after its control octets.');
    expect(why('68 04 0F 00 00 00')).toBe('Its control octet 0F is no service.');
    expect(explainFrame104(new Uint8Array()).sentence).toBe('It is no frame. It begins with nothing, and not with 68.');
    expect(explainFrame104(bytesOf('68 06 00 00 00 00 01 01')).problems).toEqual(['Its head is not whole.']);
  });

  it('is cut out of what comes, however that is torn, and nothing more after what is none', () => {
    const whole = frames.flatMap(([, hex]) => [...bytesOf(hex)]);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1 }), (sizes) => {
        const stream = new Stream104();
        const cut: string[] = [];
        for (let at = 0, turn = 0; at < whole.length; turn++) {
          const size = sizes[turn % sizes.length]!;
          cut.push(...stream.push(Uint8Array.from(whole.slice(at, at + size))).frames.map((frame) => toHex(frame)));
          at += size;
        }
        expect(cut).toEqual(frames.map(([, hex]) => hex));
      }),
    );
    const stream = new Stream104();
    expect(stream.push(bytesOf('68 04 43 00 00 00 99')).broken).toBe('An octet 99 stands where a frame begins with 68.');
    expect(stream.push(bytesOf('68 04 43 00 00 00')).frames).toEqual([]);
    expect(new Stream104().push(bytesOf('68 02')).broken).toBe('A frame says that it has 2 octets; there are 4 to 253.');
  });

  it('never fails, whatever it is, and every octet of it is explained once', () => {
    const mutated = fc
      .tuple(fc.constantFrom(...iec104Vectors), fc.array(fc.tuple(fc.nat(40), fc.nat(255)), { maxLength: 4 }), fc.nat(12))
      .map(([{ hex }, changes, cut]) => {
        const frame = buildFrame104({ kind: 'numbered', sent: 1, received: 2, asdu: bytesOf(hex) });
        for (const [at, byte] of changes) if (at < frame.length) frame[at] = byte;
        return frame.subarray(0, frame.length - (cut > 8 ? cut - 8 : 0));
      });
    fc.assert(
      fc.property(fc.oneof(mutated, fc.uint8Array({ maxLength: 60 })), (bytes) => {
        const { fields } = explainFrame104(bytes);
        let next = 0;
        for (const { from, to } of fields) {
          expect(from).toBe(next);
          next = to + 1;
        }
        expect(next).toBe(bytes.length);
        new Stream104().push(bytes);
      }),
      { numRuns: 2000 },
    );
  });

  it('has times that are UTC, with what the clock that gave them was', () => {
    expect(new Date(IEC104_NOON).toISOString()).toBe('2026-11-28T12:34:56.789Z');
    const time = (hex: string) => readAsdu(bytesOf(`67 01 06 00 0C 00 00 00 00 ${hex}`))!.asdu.objects[0]?.held['time'];
    expect(time('D5 DD 22 0C DC 0B 1A')).toEqual({ atMs: IEC104_NOON, invalid: false, summer: false });
    expect(time('D5 DD A2 8C DC 0B 1A')).toEqual({ atMs: IEC104_NOON, invalid: true, summer: true });
    expect(time('D5 DD 22 0C DF 0B 1A')).withContext('the 31st of November').toBeUndefined();
  });
});
