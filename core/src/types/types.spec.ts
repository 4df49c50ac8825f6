import fc from 'fast-check';
import {
  isFloat,
  isNumeric,
  likeliestOf,
  numericTypes,
  pointTypes,
  rangeOf,
  readIecName,
  readManualName,
  readXsdName,
  typeOf,
  widthOf,
} from './index.js';

describe('Types', () => {
  it('hold the ends of their range and give them back', () => {
    for (const name of numericTypes) {
      const type = typeOf(name);
      if (type.kind === 'whole') {
        for (const raw of [type.low, 0, type.high])
          expect(type.read(type.write(raw)))
            .withContext(name)
            .toEqual({ ok: true, value: raw });
      } else if (type.kind === 'wide') {
        for (const raw of [type.low, 0n, type.high])
          expect(type.read(type.write(raw)))
            .withContext(name)
            .toBe(raw);
      } else {
        for (const raw of [-type.limit, 0, type.limit])
          expect(type.read(type.write(raw)))
            .withContext(name)
            .toBe(raw);
      }
    }
  });

  it('fill as many registers as they say', () => {
    for (const name of numericTypes) {
      const type = typeOf(name);
      const written = type.kind === 'wide' ? type.write(1n) : type.write(1);
      expect(written.length).withContext(name).toBe(widthOf(name));
      expect(written.every((word) => Number.isInteger(word) && word >= 0 && word <= 0xffff)).toBeTrue();
    }
  });

  it('read back what they wrote, for any whole number that fits', () => {
    for (const name of numericTypes) {
      const type = typeOf(name);
      if (type.kind !== 'whole') continue;
      fc.assert(
        fc.property(fc.integer({ min: type.low, max: type.high }), (raw) => {
          expect(type.read(type.write(raw))).toEqual({ ok: true, value: raw });
        }),
      );
    }
  });

  it('have manual names that no two of them share', () => {
    const examples = {
      ...{ bit: 'bool', int16: 'signed word', uint16: 'word', int32: 'dint', uint32: 'unsigned 32', int64: 'lint', uint64: 'qword' },
      ...{ float32: 'real', float64: 'double', bcd16: 'bcd', bcd32: 'bcd8', 'mod10-32': 'mod10', string: 'ascii', bits: 'bitfield' },
    } as const;
    for (const [name, text] of Object.entries(examples)) {
      expect(readManualName(text)?.type)
        .withContext(text)
        .toBe(name as never);
      expect(pointTypes.filter((type) => typeOf(type).manuals.test(text)).length)
        .withContext(text)
        .toBe(1);
    }
    expect(Object.keys(examples).sort()).toEqual([...pointTypes].sort());
    expect(readManualName('quaternion')).toBeNull();
  });

  it('say in registers how long a named size is', () => {
    expect(readManualName('string[15]')).toEqual({ type: 'string', width: 8 });
    expect(readManualName('bits 32')).toEqual({ type: 'bits', width: 2 });
  });

  it('are declared by names of IEC 61131-3 that are read back, but where it has none', () => {
    const coded = ['bcd16', 'bcd32', 'mod10-32'];
    for (const name of pointTypes) {
      const declared = typeOf(name).iec.declare(3);
      expect(readIecName(declared)?.type)
        .withContext(declared)
        .toBe(coded.includes(name) ? 'bits' : name);
    }
    expect(readIecName('Array [0 .. 4] of Word')).toEqual({ type: 'bits', width: 5 });
    expect(readIecName('DWORD')).toEqual({ type: 'bits', width: 2 });
    expect(readIecName('TIME')).toBeNull();
  });

  it('have no XML Schema name of another', () => {
    const named = pointTypes.flatMap((type) => typeOf(type).thing.xsd ?? []);
    expect(new Set(named).size).toBe(named.length);
    expect(readXsdName('xs:unsignedInt')).toBe('uint32');
    expect(readXsdName('xsd:boolean')).toBeNull();
  });

  it('guess the plainest type of a width, and none where no type is so wide', () => {
    expect([1, 2, 4].map((width) => likeliestOf(width, 'whole'))).toEqual(['uint16', 'uint32', 'uint64']);
    expect([1, 2, 4].map((width) => likeliestOf(width, 'float'))).toEqual([null, 'float32', 'float64']);
    expect(likeliestOf(3, 'whole')).toBeNull();
  });

  it('have tell-tales inside their range, no two alike', () => {
    for (const name of numericTypes) {
      const { low, high } = rangeOf(name);
      const raws = typeOf(name).tellTales({ own: 5, width: widthOf(name), namedBits: [] });
      expect(raws.every(({ raw }) => Number(raw) >= low && Number(raw) <= high))
        .withContext(name)
        .toBeTrue();
      expect(new Set(raws.map(({ raw }) => raw)).size)
        .withContext(name)
        .toBe(raws.length);
    }
  });

  it('tell numbers from text and bits', () => {
    expect(pointTypes.filter((type) => !isNumeric(type))).toEqual(['bit', 'string', 'bits']);
    expect(pointTypes.filter((type) => isFloat(type))).toEqual(['float32', 'float64']);
  });
});
