import fc from 'fast-check';
import { fromHex, toHex } from '../frame/index.js';
import { IEEE1815_NOON, ieee1815Vectors } from '../testing/index.js';
import {
  Assembly,
  buildFragment,
  buildLink,
  crc1815,
  explain1815,
  type Fragment,
  type LinkFrame,
  LinkStream,
  type ObjectHeader,
  objectTypes,
  readFragment,
  readLink,
  segments,
} from './index.js';

const bytesOf = (hex: string) => {
  const read = fromHex(hex);
  return read.ok ? read.value : new Uint8Array();
};
const frame = (data: Uint8Array, fields: Partial<LinkFrame> = {}): LinkFrame => ({
  ...{ fromMaster: true, isPrimary: true, countBit: false, countValid: false, functionCode: 4, destination: 12, source: 1, data },
  ...fields,
});
const fragment = (functionCode: number, headers: ObjectHeader[], fields: Partial<Fragment> = {}): Fragment => ({
  ...{ isFirst: true, isFinal: true, wantsConfirm: false, isUnsolicited: false, sequence: 3, functionCode, headers },
  indications: functionCode >= 129 ? 0 : null,
  ...fields,
});
const built = (one: Fragment) => {
  const made = buildFragment(one);
  return made.ok ? toHex(made.value) : made.problem.message;
};
const said = (one: Fragment, fields: Partial<LinkFrame> = {}) => {
  const made = buildFragment(one);
  return explain1815(buildLink(frame(segments(made.ok ? made.value : new Uint8Array(), 0)[0]!, fields))).sentence;
};

describe('the link layer of IEEE 1815', () => {
  it('has the check of the standard over its head and over each block', () => {
    expect(toHex(buildLink(frame(new Uint8Array(), { functionCode: 0, destination: 1, source: 10 })))).toBe(
      '05 64 05 C0 01 00 0A 00 E0 8C',
    );
    const long = buildLink(frame(Uint8Array.from({ length: 20 }, (_, at) => at)));
    expect(long.length).toBe(10 + 18 + 6);
    expect(crc1815(long, 10, 26)).toBe(long[26]! | (long[27]! << 8));
    expect(crc1815(long, 28, 32)).toBe(long[32]! | (long[33]! << 8));
  });

  it('gives back what was put in, and finds each octet that is damaged', () => {
    const any = fc.record({
      ...{ fromMaster: fc.boolean(), isPrimary: fc.boolean(), countBit: fc.boolean(), countValid: fc.boolean() },
      ...{ functionCode: fc.nat(15), destination: fc.nat(65_535), source: fc.nat(65_535), data: fc.uint8Array({ maxLength: 250 }) },
    });
    fc.assert(
      fc.property(any, fc.nat(), fc.integer({ min: 1, max: 255 }), (one, at, by) => {
        const bytes = buildLink(one);
        expect(readLink(bytes)).toEqual({ frame: one, problem: null });
        bytes[at % bytes.length]! ^= by;
        expect(readLink(bytes).frame).toBeNull();
      }),
    );
  });

  it('is cut out of what comes, however that is torn, and goes on after what is none', () => {
    const all = [3, 250, 0, 16, 17].map((length) => buildLink(frame(new Uint8Array(length).fill(0x05))));
    const noise = bytesOf('05 05 64 99 05');
    const whole = [...all[0]!, ...noise, ...all.slice(1).flatMap((one) => [...one])];
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1 }), (sizes) => {
        const stream = new LinkStream();
        const found: string[] = [];
        for (let at = 0, turn = 0; at < whole.length; turn++) {
          const size = sizes[turn % sizes.length]!;
          found.push(...stream.push(Uint8Array.from(whole.slice(at, at + size))).map(({ bytes }) => toHex(bytes)));
          at += size;
        }
        expect(found).toEqual(all.map((one) => toHex(one)));
        expect(stream.lost).toBe(noise.length);
      }),
    );
  });

  it('says what is wrong', () => {
    const wrong = (change: (bytes: Uint8Array) => Uint8Array) => readLink(change(buildLink(frame(new Uint8Array(20))))).problem;
    expect(wrong((bytes) => bytes.fill(0, 0, 1))).toBe('It does not begin with 05 64.');
    expect(wrong((bytes) => bytes.slice(0, 5))).toBe('Its head is not whole.');
    expect(wrong((bytes) => bytes.fill(4, 2, 3))).toBe('Its length is 4, and its head alone has 5.');
    expect(wrong((bytes) => bytes.slice(0, 30))).toBe('By its length it has 34 octets, and there are 30.');
    expect(wrong((bytes) => bytes.fill(9, 8, 9))).toBe('The check of its head is wrong.');
    expect(wrong((bytes) => bytes.fill(9, 29, 30))).toBe('The check of its block 2 is wrong.');
  });
});

describe('the transport function', () => {
  it('takes a fragment apart and puts it together, and drops what is out of turn', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 2000 }), fc.nat(63), (whole, sequence) => {
        const pieces = segments(whole, sequence);
        expect(pieces.every(({ length }) => length <= 250)).toBeTrue();
        const assembly = new Assembly();
        const results = pieces.map((piece) => assembly.push(piece));
        expect(results.slice(0, -1).every((one) => one === null)).toBeTrue();
        expect(results.at(-1)).toEqual(whole);
      }),
    );
    const [first, second, third] = segments(new Uint8Array(700), 62);
    expect([first![0], second![0], third![0]]).toEqual([0x40 | 62, 63, 0x80 | 0]);
    const assembly = new Assembly();
    assembly.push(first!);
    expect(assembly.push(third!)).toBeNull();
    expect(assembly.push(second!)).withContext('nothing was begun any more').toBeNull();
    expect(assembly.push(new Uint8Array())).toBeNull();
  });
});

describe('a fragment of the application layer', () => {
  for (const { group, variation, hex, held, says } of ieee1815Vectors)
    it(`has group ${group} variation ${variation} as the standard has it`, () => {
      const one = fragment(129, [{ group, variation, qualifier: 0x17, objects: [{ index: 5, held }] }]);
      const head = [group, variation].map((value) => value.toString(16).toUpperCase().padStart(2, '0')).join(' ');
      expect(built(one)).toBe(`C3 81 00 00 ${head} 17 01 05 ${hex}`);
      const read = readFragment(bytesOf(built(one)))!;
      expect(read.problem).toBeNull();
      expect(read.headers[0]!.objects).toEqual([{ index: 5, held: jasmine.objectContaining(held) as never }]);
      expect(said(one, { fromMaster: false })).toContain(` 5: ${says}.`);
    });

  it('asks, commands, and sets the clock as the standard has it', () => {
    const classes = [2, 3, 4, 1].map((variation): ObjectHeader => ({ group: 60, variation, qualifier: 6, objects: [] }));
    expect(built(fragment(1, classes))).toBe('C3 01 3C 02 06 3C 03 06 3C 04 06 3C 01 06');
    expect(said(fragment(1, classes.slice(0, 1)))).toBe('Station 1 to 12: reads events of class 1.');
    const latch = { operation: 3, queue: false, clear: false, way: 0, count: 1, onMs: 100, offMs: 0, status: 0 };
    const select = fragment(3, [{ group: 12, variation: 1, qualifier: 0x28, objects: [{ index: 7, held: latch }] }]);
    expect(built(select)).toBe('C3 03 0C 01 28 01 00 07 00 03 01 64 00 00 00 00 00 00 00 00');
    expect(said(select)).toBe('Station 1 to 12: selects command 7: latch on, accepted.');
    const pulse = { ...latch, operation: 1, way: 1, count: 2, status: 4 };
    expect(said(fragment(129, [{ group: 12, variation: 1, qualifier: 0x17, objects: [{ index: 7, held: pulse }] }]))).toContain(
      '7: close, pulse on of 100 ms, 2 times, not supported',
    );
    const clock = fragment(2, [{ group: 50, variation: 1, qualifier: 7, objects: [{ index: null, held: { time: IEEE1815_NOON } }] }]);
    expect(built(clock)).toBe('C3 02 32 01 07 01 95 C8 26 22 A2 01');
    const clear = fragment(2, [{ group: 80, variation: 1, qualifier: 0, objects: [{ index: 7, held: { value: 0 } }] }]);
    expect(built(clear)).toBe('C3 02 50 01 00 07 07 00');
    const setPoint = fragment(5, [{ group: 41, variation: 3, qualifier: 0x28, objects: [{ index: 300, held: { value: 1, status: 0 } }] }]);
    expect(built(setPoint)).toBe('C3 05 29 03 28 01 00 2C 01 00 00 80 3F 00');
    expect(built(fragment(0, [], { isUnsolicited: true }))).toBe('D3 00');
    expect(built(fragment(1, [{ group: 30, variation: 0, qualifier: 1, objects: [4, 5].map((index) => ({ index, held: {} })) }]))).toBe(
      'C3 01 1E 00 01 04 00 05 00',
    );
  });

  it('packs bits, and tells what a station says of itself', () => {
    const bits = [1, 0, 1, 1, 0, 0, 0, 0, 1].map((value, at) => ({ index: 10 + at, held: { value } }));
    const answer = fragment(129, [{ group: 1, variation: 1, qualifier: 0, objects: bits }], { indications: 0x0890, wantsConfirm: true });
    expect(built(answer)).toBe('E3 81 90 08 01 01 00 0A 12 0D 01');
    const said = explain1815(buildLink(frame(segments(bytesOf(built(answer)), 0)[0]!, { fromMaster: false })));
    expect(said.sentence).toBe(
      'Station 1 to 12: answers binary inputs, packed 10: 1; 11: 0; 12: 1 and 6 more (needs the time, restarted, events were lost).',
    );
    const doubles = [2, 1, 0, 3, 2].map((value, at) => ({ index: at, held: { value } }));
    expect(built(fragment(129, [{ group: 3, variation: 1, qualifier: 0, objects: doubles }]))).toBe('C3 81 00 00 03 01 00 00 04 C6 02');
  });

  it('is not built of what does not fit, and says what is wrong with one that came', () => {
    const one = (header: Partial<ObjectHeader>) =>
      built(fragment(129, [{ group: 1, variation: 2, qualifier: 0, objects: [{ index: 5, held: {} }], ...header }]));
    expect(one({ group: 99 })).toBe('Object 99 variation 2 is not known.');
    expect(one({ qualifier: 0x55 })).toBe('Qualifier 85 is not known.');
    expect(one({ objects: [] })).toBe('There is no object in a header that counts them.');
    expect(one({ objects: [{ index: 256, held: {} }] })).toContain('is past 255');
    expect(one({ objects: [5, 7].map((index) => ({ index, held: {} })) })).toBe('The objects of a range follow each other.');
    const wrong = (hex: string) => readFragment(bytesOf(hex))?.problem;
    expect(wrong('C3')).toBeUndefined();
    expect(wrong('C3 81 00')).toBeUndefined();
    expect(wrong('C3 81 00 00 01')).toBe('It ends in the head of an object.');
    expect(wrong('C3 81 00 00 01 02 00 05')).toBe('It ends in the head of an object.');
    expect(wrong('C3 81 00 00 63 02 06')).toBe('Object 99 variation 2 is not known.');
    expect(wrong('C3 81 00 00 01 02 55')).toBe('Qualifier 85 is not known.');
    expect(wrong('C3 81 00 00 01 02 00 05 03')).toBe('A range ends before it begins.');
    expect(wrong(`C3 01 ${'1E 01 01 00 00 FF FF '.repeat(2)}`)).toBe('It names more than 65536 objects.');
    expect(wrong('C3 81 00 00 1E 01 00 00 09 01 00')).toBe('Object 30 variation 1: 10 of them do not fit into the 2 octets that follow.');
  });

  it('gives back what was put in, of every object', () => {
    const header = fc.constantFrom(...objectTypes.filter(({ group }) => group !== 60)).chain((type) => {
      const bytes = fc.uint8Array({ minLength: 16, maxLength: 16 });
      const held = bytes.map((octets) => {
        if (type.packedBits) return { value: octets[0]! & (2 ** type.packedBits - 1) };
        let at = 0;
        return Object.assign({}, ...type.elements.map((element) => element.read(octets.subarray(at, (at += element.bytes))))) as Record<
          string,
          number
        >;
      });
      return fc.record({
        ...{ group: fc.constant(type.group), variation: fc.constant(type.variation), qualifier: fc.constantFrom(0, 1) },
        objects: fc
          .tuple(fc.nat(200), fc.array(held, { minLength: 1, maxLength: 20 }))
          .map(([first, all]) => all.map((one, at) => ({ index: first + at, held: one }))),
      });
    });
    fc.assert(
      fc.property(
        fc.array(header, { maxLength: 4 }),
        fc.constantFrom(2, 129, 130),
        fc.nat(15),
        fc.nat(65_535),
        (headers, functionCode, sequence, internal) => {
          const one = fragment(functionCode, headers, { sequence, ...(functionCode >= 129 ? { indications: internal } : {}) });
          const made = buildFragment(one);
          const read = made.ok ? readFragment(made.value)! : null;
          expect(read?.problem).toBeNull();
          expect(read?.fragment).toEqual(one);
        },
      ),
    );
  });
});

describe('a frame that is explained', () => {
  it('has every octet in one field, whatever it is, and never fails', () => {
    const sound = fc.tuple(
      fc.constantFrom(...ieee1815Vectors),
      fc.integer({ min: 1, max: 12 }),
      fc.array(fc.tuple(fc.nat(60), fc.nat(255)), { maxLength: 3 }),
    );
    const mutated = sound.map(([{ group, variation, held }, count, changes]) => {
      const objects = Array.from({ length: count }, (_, index) => ({ index, held }));
      const made = buildFragment(fragment(129, [{ group, variation, qualifier: 0x17, objects }]));
      const data = segments(made.ok ? made.value : new Uint8Array(), 5)[0]!.slice();
      for (const [at, byte] of changes) if (at < data.length) data[at] = byte;
      return buildLink(frame(data));
    });
    fc.assert(
      fc.property(fc.oneof(mutated, fc.uint8Array({ maxLength: 60 })), (bytes) => {
        let next = 0;
        for (const { from, to } of explain1815(bytes).fields) {
          expect(from).toBe(next);
          next = to + 1;
        }
        expect(next).toBe(bytes.length);
        new LinkStream().push(bytes);
      }),
      { numRuns: 2000 },
    );
  });

  it('says what the link layer says of itself, and pieces of fragments', () => {
    const of = (fields: Partial<LinkFrame>) => explain1815(buildLink(frame(new Uint8Array(), fields))).sentence;
    expect(of({ functionCode: 9 })).toBe('Station 1 to 12: question after the state of the link.');
    expect(of({ functionCode: 11, isPrimary: false })).toBe('Station 1 to 12: state of the link.');
    const [first] = segments(new Uint8Array(300), 0);
    expect(explain1815(buildLink(frame(first!))).sentence).toBe('Station 1 to 12: the first piece of a fragment.');
    expect(explain1815(bytesOf('05 64 05')).problems).toEqual(['Its head is not whole.']);
    expect(explain1815(buildLink(frame(bytesOf('C0 C3')))).sentence).toBe('Station 1 to 12: a fragment whose head is not whole.');
    const unknown = explain1815(buildLink(frame(bytesOf('C0 C3 01 63 02 06'))));
    expect([unknown.ok, unknown.sentence]).toEqual([false, 'Station 1 to 12: reads. Object 99 variation 2 is not known.']);
  });
});
