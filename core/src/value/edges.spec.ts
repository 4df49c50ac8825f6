import {
  decode,
  encode,
  findOrder,
  type Layout,
  readNamed,
  readScale,
  reorder,
  Scale,
  scaleText,
  shortOrder,
  toRaw,
  toUnits,
} from './index.js';
import { encoderScale, formulaOf, lineOf } from './scale.js';
import { namedText } from './named-text.js';

const written = (value: Parameters<typeof encode>[0], layout: Layout) => {
  const result = encode(value, layout);
  return result.ok ? result.value : result.problem;
};
const refused = (message: string, ...path: string[]) => ({ message, path });

describe('what a register cannot hold', () => {
  it('is refused with the range, in the units that were typed', () => {
    const tenths = { factor: 0.1, offset: 0 };
    expect(written(3276.8, { type: 'int16', scale: tenths })).toEqual(
      refused('3276.8 does not fit: int16 holds -3276.8 to 3276.7 here.', 'value'),
    );
    expect(written(3276.7, { type: 'int16', scale: tenths })).toEqual({ words: [32767], exact: true });
    expect(written(-3276.8, { type: 'int16', scale: tenths })).toEqual({ words: [0x8000], exact: true });
    const falling = { factor: -1, offset: 0 };
    expect(written(1, { type: 'uint16', scale: falling })).toEqual(refused('1 does not fit: uint16 holds -65535 to 0 here.', 'value'));
    expect(written(65536, { type: 'uint16' })).toEqual(refused('65536 does not fit: uint16 holds 0 to 65535 here.', 'value'));
    expect(written(-1, { type: 'uint16' })).toEqual(refused('-1 does not fit: uint16 holds 0 to 65535 here.', 'value'));
    const top = 3.4028234663852886e38;
    expect(written(top, { type: 'float32' })).toEqual({ words: [0x7f7f, 0xffff], exact: true });
    expect(written(3.5e38, { type: 'float32' })).toEqual(refused(`3.5e+38 does not fit: float32 holds ${-top} to ${top} here.`, 'value'));
    expect(written(NaN, { type: 'int16' })).toEqual(refused('NaN cannot be held as int16.', 'value'));
    expect(written('Infinity', { type: 'float32' })).toEqual({ words: [0x7f80, 0], exact: true });
    expect(written('NaN', { type: 'float32' })).toEqual({ words: [0x7fc0, 0], exact: true });
  });

  it('is written as the nearest, which is said', () => {
    expect(written(61.54, { type: 'int16', scale: { factor: 0.1, offset: 0 } })).toEqual({
      words: [615],
      exact: false,
      note: '61.54 is written as 61.5 (raw 615).',
    });
    expect(written(2.6, { type: 'uint16' })).toEqual({ words: [3], exact: false, note: '2.6 is written as 3 (raw 3).' });
    expect(written(0.1, { type: 'float32' })).toEqual({
      words: [0x3dcc, 0xcccd],
      exact: false,
      note: 'The nearest that float32 holds is 0.10000000149011612.',
    });
    const clamped: Scale = { raw: [0, 1000], units: [10, 20], clamp: true };
    expect(written(21, { type: 'uint16', scale: clamped })).toEqual({
      words: [1000],
      exact: false,
      note: '21 is written as 20 (raw 1000).',
    });
    expect(written(9, { type: 'uint16', scale: clamped })).toEqual({ words: [0], exact: false, note: '9 is written as 10 (raw 0).' });
    for (const end of [10, 20]) expect(written(end, { type: 'uint16', scale: clamped })).toEqual(jasmine.objectContaining({ exact: true }));
    expect(written(21, { type: 'uint16', scale: { ...clamped, clamp: false } })).toEqual({ words: [1100], exact: true });
    expect(written(15, { type: 'uint64', scale: { factor: 10, offset: 5 } })).toEqual({ words: [0, 0, 0, 1], exact: true });
    const tenth = { type: 'uint64', scale: { factor: 0.1, offset: 0 } } as const;
    expect(written('900719925474099.3', tenth)).toEqual({ words: [0x20, 0, 0, 1], exact: true });
    expect(written('900719925474099.35', tenth)).toEqual(jasmine.objectContaining({ words: [0x20, 0, 0, 2], exact: false }));
    const range = { raw: [0, 1000], units: [0, 10], clamp: true } as { raw: [number, number]; units: [number, number]; clamp: true };
    expect(written(12, { type: 'int64', scale: range })).toEqual(jasmine.objectContaining({ words: [0, 0, 0, 1000], exact: false }));
    expect(written('-3', { type: 'int64', scale: { factor: -1, offset: 0 } })).toEqual({ words: [0, 0, 0, 3], exact: true });
  });

  it('is told apart from what is no value of its type at all', () => {
    expect(written([1], { type: 'uint16' })).toEqual(refused('A number was expected, not a list of bits.', 'value'));
    expect(written(7, { type: 'string', length: 2 })).toEqual(refused('Text was expected.', 'value'));
    expect(written(' ', { type: 'uint16' })).toEqual(refused('“ ” is no number.', 'value'));
    expect(written('1 2', { type: 'uint16' })).toEqual(refused('“1 2” is no number.', 'value'));
    expect(written(' 12 ', { type: 'uint16' })).toEqual({ words: [12], exact: true });
    expect(written(2 ** 53, { type: 'int64' })).toEqual(
      refused('9007199254740992 is no whole number that can be taken exactly; give it as text.', 'value'),
    );
    for (const text of ['1.5', 'x1', '1x', '- 1', ''])
      expect(written(text, { type: 'int64' })).toEqual(refused(`“${text}” is no whole number.`, 'value'));
    expect(written(' +9223372036854775807 ', { type: 'int64' })).toEqual({ words: [0x7fff, 0xffff, 0xffff, 0xffff], exact: true });
    expect(written('9223372036854775808', { type: 'int64' })).toEqual(
      refused('9223372036854775808 does not fit: int64 holds -9223372036854775808 to 9223372036854775807 here.', 'value'),
    );
    expect(written('-9223372036854775809', { type: 'int64' })).toEqual(jasmine.objectContaining({ path: ['value'] }));
    expect(written('-9223372036854775808', { type: 'int64' })).toEqual({ words: [0x8000, 0, 0, 0], exact: true });
  });

  it('is a bit past the last one', () => {
    expect(written([0, 15], { type: 'bits' })).toEqual({ words: [0x8001], exact: true });
    expect(written([0, 16], { type: 'bits' })).toEqual(refused('Bit 16 does not fit: bits 0 to 15 are there.', 'value'));
    expect(written([31, 0], { type: 'bits', length: 2 })).toEqual({ words: [0x8000, 1], exact: true });
    expect(written(65535, { type: 'bits' })).toEqual({ words: [0xffff], exact: true });
    expect(written(0, { type: 'bits' })).toEqual({ words: [0], exact: true });
    expect(written(65536, { type: 'bits' })).toEqual(refused('65536 does not fit: bits holds 0 to 65535 here.', 'value'));
    expect(written(-1, { type: 'bits' })).toEqual(refused('-1 does not fit: bits holds 0 to 65535 here.', 'value'));
    expect(written('x', { type: 'bits' })).toEqual(refused('“x” is no whole number.', 'value'));
    expect(written(5, { type: 'bits', order: 'BADC' })).toEqual({ words: [0x0500], exact: true });
  });
});

describe('registers of a wrong number or order', () => {
  const read = (words: number[], layout: Layout) => {
    const result = decode(words, layout);
    return result.ok ? result.value : result.problem;
  };

  it('are refused in words', () => {
    expect(read([1, 2, 3], { type: 'float32' })).toEqual(refused('float32 takes 2 registers; 3 were given.', 'words'));
    expect(read([], { type: 'int16' })).toEqual(refused('int16 takes 1 register; 0 were given.', 'words'));
    expect(read([1], { type: 'string', length: 2 })).toEqual(refused('string takes 2 registers; 1 was given.', 'words'));
    const eight = reorder([1, 2], 'HGFEDCBA');
    expect(eight.ok || eight.problem).toEqual(refused('Order HGFEDCBA names eight bytes, but the value has 4.', 'order'));
  });

  it('hold bits of any number of registers, and wide numbers by digits', () => {
    expect(read([0x8000, 1], { type: 'bits', length: 2 })).toEqual({ raw: 0x80000001, value: [0, 31] });
    expect(read([1, 0, 0], { type: 'bits', length: 3 })).toEqual({ raw: String(2 ** 32), value: [32] });
    expect(read([0, 0, 0, 15], { type: 'uint64', scale: { factor: 0.1, offset: 0 } })).toEqual({ raw: '15', value: 1.5 });
    expect(read([0x4142, 0x4344], { type: 'string', length: 2, order: 'BADC' })).toEqual({ raw: 'BADC', value: 'BADC' });
  });

  it('have an order that is called alike at any width', () => {
    expect((['ABCDEFGH', 'GHEFCDAB', 'BADCFEHG', 'HGFEDCBA'] as const).map(shortOrder)).toEqual(['ABCD', 'CDAB', 'BADC', 'DCBA']);
  });
});

describe('a scale', () => {
  const scale = (text: string) => {
    const result = readScale(text);
    return result.ok ? result.value : result.problem.message;
  };

  it('is read as people write it', () => {
    const linear = (factor: number, offset = 0) => ({ factor, offset });
    const texts: [string, unknown][] = [
      ['', null],
      [' − ', null],
      ['1', null],
      ['×1', null],
      ['/1', null],
      ['1/1', null],
      ['× 1 + 2', linear(1, 2)],
      ['/1 - 3', linear(1, -3)],
      ['0.1', linear(0.1)],
      ['× 0,1', linear(0.1)],
      ['x.5', linear(0.5)],
      ['·1e-3', linear(0.001)],
      ['/10', linear(0.1)],
      ['÷ 8', linear(0.125)],
      [': 4', linear(0.25)],
      ['1/10', linear(0.1)],
      ['x 1 / 3', linear(0.333333333333333)],
      ['× 0.1 − 40', linear(0.1, -40)],
      ['/10+2.5', linear(0.1, 2.5)],
      ['-2', linear(-2)],
      ['0…27648 → 0…100', { raw: [0, 27648], units: [0, 100] }],
      ['4000..20000 -> -1,5...10 clamped', { raw: [4000, 20000], units: [-1.5, 10], clamp: true }],
      ['0:10=>0:1 CLAMPED', { raw: [0, 10], units: [0, 1], clamp: true }],
    ];
    for (const [text, expected] of texts)
      expect(scale(text))
        .withContext(text)
        .toEqual(expected as never);
  });

  it('is refused where it is none, or would lose every value', () => {
    const none = (text: string) => `“${text}” is no scale. Write × 0.1, /10, × 0.1 − 40 or 0…27648 → 0…100.`;
    for (const text of ['abc', '1 2', '×', '0.1 +', '0…1', '0…1 → 0', '5 0…1 → 0…2', '0…1 → 0…2 x', 'y1/10', '1/10z'])
      expect(scale(text)).toBe(none(text));
    expect(scale('  abc ')).toBe(none('abc'));
    expect([scale('/0'), scale('1/0')]).toEqual(Array(2).fill('A scale cannot divide by 0.'));
    expect(scale('0')).toBe('A factor of 0 would make every value 0.');
    expect(scale('5…5 → 0…1')).toBe('The raw range has no width.');
    expect(scale('0…5 → 1…1')).toBe('The unit range has no width.');
  });

  it('is said back so that it reads the same', () => {
    const said: [Scale | null, string, string?][] = [
      [null, ''],
      [{ factor: 0.1, offset: 0 }, '× 0.1', 'value = raw × 0.1'],
      [{ factor: 0.1, offset: -40 }, '× 0.1 − 40', 'value = raw × 0.1 − 40'],
      [{ factor: 1, offset: 2 }, '× 1 + 2', 'value = raw + 2'],
      [{ raw: [0, 10], units: [0, 1] }, '0…10 → 0…1', 'value = raw × 0.1'],
      [{ raw: [4000, 20000], units: [0, 100], clamp: true }, '4000…20000 → 0…100 clamped', 'value = raw × 0.00625 − 25'],
    ];
    for (const [value, text, formula] of said) {
      expect(scaleText(value)).toBe(text);
      expect(scale(text)).toEqual(value);
      if (value) expect(formulaOf(value)).toBe(formula!);
    }
  });

  it('computes both ways, by factor or between two ranges', () => {
    const range: Scale = { raw: [100, 200], units: [-1, 1] };
    expect([100, 150, 200, 250].map((raw) => toUnits(raw, range))).toEqual([-1, 0, 1, 2]);
    expect([-1, 0, 1, 2].map((value) => toRaw(value, range))).toEqual([100, 150, 200, 250]);
    const clamped: Scale = { ...range, clamp: true };
    expect([50, 100, 150, 300].map((raw) => toUnits(raw, clamped))).toEqual([-1, -1, 0, 1]);
    expect([-2, -1, 0, 3].map((value) => toRaw(value, clamped))).toEqual([100, 100, 150, 200]);
    expect([toUnits(NaN, range), toRaw(Infinity, range)]).toEqual([NaN, Infinity]);
    expect([toUnits(3, { factor: 0.1, offset: 1 }), toRaw(1.3, { factor: 0.1, offset: 1 })]).toEqual([1.3, 3]);
    expect(lineOf(range)).toEqual({ factor: 0.02, offset: -3 });
    expect([encoderScale(1000, 5, false), encoderScale(1000, 5, true)]).toEqual([
      { factor: 0.005, offset: 0 },
      { factor: 0.00125, offset: 0 },
    ]);
  });
});

describe('numbers by name', () => {
  const names = (text: string) => {
    const result = readNamed(text);
    return result.ok ? result.value.map(({ number, name }) => `${number} ${name}`) : result.problem.message;
  };

  it('are read as manuals write them', () => {
    const forms = [
      '0=idle;1=run',
      '0 = idle ; 1 = run',
      '0: idle, 1: run',
      '0 idle\n1 run',
      '0 - idle\n1 – run',
      'bit 0 = idle, bit 1 = run',
      'Bit0: idle; BIT 1: run;',
    ];
    for (const form of forms) expect(names(form)).withContext(form).toEqual(['0 idle', '1 run']);
    expect(names('-1 = off, 0x1F = on')).toEqual(['-1 off', '31 on']);
    expect(names('10: on, ready, 0X0b: off, 12 = a = b')).toEqual(['10 on, ready', '11 off', '12 a = b']);
    expect(names('1 = on, 2 more words')).toEqual(['1 on', '2 more words']);
    expect(names('1 = on, off')).toEqual(['1 on, off']);
    expect(names(' ')).toEqual([]);
  });

  it('are refused where a part has no number or no name', () => {
    const none = (part: string) => `“${part}” is no number with a name. Write 0 = ready; 1 = on.`;
    expect(names('0 = a; b')).toBe(none('b'));
    expect(names('x 0 = a')).toBe(none('x 0 = a'));
    expect(names('0 =')).toBe(none('0 ='));
    expect(names('1.5 = a')).toBe(none('1.5 = a'));
  });

  it('are said back so that they read the same, whatever is in a name', () => {
    const text = namedText([
      { number: 0, name: 'on; 1 = off' },
      { number: -2, name: 'a, 3 = b\\' },
    ]);
    expect(text).toBe('0 = on\\; 1 = off; -2 = a\\, 3 = b\\\\');
    expect(names(text)).toEqual(['0 on; 1 = off', '-2 a, 3 = b\\']);
  });
});

describe('readings ranked by how far-fetched they are', () => {
  const ways = (words: number[], expected: number, tolerance?: number) =>
    findOrder(words, expected, tolerance).map(({ at, type, order, factor }) => `${at} ${type} ${order} ${factor}`);

  it('put the plain one first, and a nearer one before a farther one', () => {
    expect(ways([615], 61.5, 0)).toEqual(['0 uint16 ABCD 0.1', '0 int16 ABCD 0.1']);
    expect(ways([100, 101], 101, 2).slice(0, 2)).toEqual(['1 uint16 ABCD 1', '1 int16 ABCD 1']);
    expect(ways([7, 7], 7, 0.1).slice(0, 2)).toEqual(['0 uint16 ABCD 1', '0 int16 ABCD 1']);
    expect(ways([0x0700], 7, 0)).toEqual(['0 uint16 BADC 1', '0 int16 BADC 1', '0 bcd16 ABCD 0.01', '0 bcd16 BADC 1']);
  });

  it('take 2 % where nothing else is asked, a hundredth around 0, and at most sixty', () => {
    expect(ways([102], 100)).toContain('0 uint16 ABCD 1');
    expect(ways([98], 100)).toContain('0 uint16 ABCD 1');
    expect(ways([103], 100)).not.toContain('0 uint16 ABCD 10');
    expect(findOrder([103], 100).length).toBe(5);
    expect(findOrder([103], 100)[0]).toEqual({ at: 0, type: 'uint16', order: 'ABCD', factor: 1, value: 103, difference: 3 });
    expect(ways([1], 0).length).toBeGreaterThan(5);
    expect(findOrder([0, 0, 0, 0, 0, 0, 0, 0], 0).length).toBe(60);
  });

  it('never read past the last word, nor a pattern that is no number', () => {
    expect(findOrder([1, 2], 1e6, 1e9).every(({ at, type }) => at === 0 || !/32|64/.test(type))).toBeTrue();
    expect(findOrder([0x7fc0, 0], 1, 1e12).some(({ type, order }) => type === 'float32' && order === 'ABCD')).toBeFalse();
  });
});
