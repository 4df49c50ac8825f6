import fc from 'fast-check';
import { byteOrders, decode, encode, type Layout, reorder } from './index.js';
import { valueTypes } from '../types/index.js';

function decoded(words: number[], layout: Layout) {
  const result = decode(words, layout);
  return result.ok ? result.value : result.problem.message;
}

function encoded(value: Parameters<typeof encode>[0], layout: Layout) {
  const result = encode(value, layout);
  return result.ok ? result.value : result.problem.message;
}

describe('decode', () => {
  it('reads every type from its registers', () => {
    expect(decoded([0xfffe], { type: 'int16' })).toEqual({ raw: -2, value: -2 });
    expect(decoded([0xfffe], { type: 'uint16' })).toEqual({ raw: 65534, value: 65534 });
    expect(decoded([0xffff, 0xfffe], { type: 'int32' })).toEqual({ raw: -2, value: -2 });
    expect(decoded([1, 0], { type: 'uint32' })).toEqual({ raw: 65536, value: 65536 });
    expect(decoded([0x7fff, 0xffff, 0xffff, 0xffff], { type: 'int64' })).toEqual({
      raw: '9223372036854775807',
      value: '9223372036854775807',
    });
    expect(decoded([0xffff, 0xffff, 0xffff, 0xffff], { type: 'uint64' })).toEqual({
      raw: '18446744073709551615',
      value: '18446744073709551615',
    });
    expect(decoded([0x4276, 0], { type: 'float32' })).toEqual({ raw: 61.5, value: 61.5 });
    expect(decoded([0x404e, 0xc000, 0, 0], { type: 'float64' })).toEqual({ raw: 61.5, value: 61.5 });
    expect(decoded([0x1234], { type: 'bcd16' })).toEqual({ raw: 1234, value: 1234 });
    expect(decoded([0x1234, 0x5678], { type: 'bcd32' })).toEqual({ raw: 12345678, value: 12345678 });
    expect(decoded([12, 3456], { type: 'mod10-32' })).toEqual({ raw: 123456, value: 123456 });
    expect(decoded([0x4d61, 0x6c74, 0x0000], { type: 'string' })).toEqual({ raw: 'Malt', value: 'Malt' });
    expect(decoded([0b10011], { type: 'bits' })).toEqual({ raw: 19, value: [0, 1, 4] });
  });

  it('puts each of the four orders right', () => {
    const wire = { ABCD: [0x1234, 0x5678], CDAB: [0x5678, 0x1234], BADC: [0x3412, 0x7856], DCBA: [0x7856, 0x3412] } as const;
    for (const [order, words] of Object.entries(wire)) {
      expect(decoded([...words], { type: 'uint32', order: order as 'ABCD' }))
        .withContext(order)
        .toEqual({ raw: 0x12345678, value: 0x12345678 });
    }
    expect(decoded([0x0708, 0x0506, 0x0304, 0x0102], { type: 'uint64', order: 'GHEFCDAB' })).toEqual({
      raw: '72623859790382856',
      value: '72623859790382856',
    });
  });

  it('scales by factor or by two ranges, without the dust of binary arithmetic', () => {
    expect(decoded([3], { type: 'uint16', scale: { factor: 0.1, offset: 0 } })).toEqual({ raw: 3, value: 0.3 });
    expect(decoded([13824], { type: 'uint16', scale: { raw: [0, 27648], units: [0, 10] } })).toEqual({ raw: 13824, value: 5 });
    expect(decoded([30000], { type: 'uint16', scale: { raw: [0, 27648], units: [0, 10], clamp: true } })).toEqual({
      raw: 30000,
      value: 10,
    });
  });

  it('names what JSON has no number for', () => {
    expect(decoded([0x7fc0, 0], { type: 'float32' })).toEqual({ raw: 'NaN', value: 'NaN' });
    expect(decoded([0xff80, 0], { type: 'float32' })).toEqual({ raw: '-Infinity', value: '-Infinity' });
  });

  it('refuses what the type cannot be, in words', () => {
    expect(decoded([1], { type: 'float32' })).toBe('float32 takes 2 registers; 1 was given.');
    expect(decoded([0x12a4], { type: 'bcd16' })).toContain('Digit 3 from the left is A');
    expect(decoded([10000, 1], { type: 'mod10-32' })).toContain('0 to 9999');
    expect(decoded([1, 2], { type: 'uint32', order: 'GHEFCDAB' })).toContain('eight bytes');
    expect(decoded([0xe4e4], { type: 'string' })).toContain('latin1');
  });
});

describe('encode', () => {
  it('says the range of what does not fit, in the units that were typed', () => {
    expect(encoded(70000, { type: 'uint16' })).toBe('70000 does not fit: uint16 holds 0 to 65535 here.');
    expect(encoded(4000, { type: 'int16', scale: { factor: 0.1, offset: 0 } })).toBe(
      '4000 does not fit: int16 holds -3276.8 to 3276.7 here.',
    );
    expect(encoded('18446744073709551616', { type: 'uint64' })).toContain('0 to 18446744073709551615');
    expect(encoded('Maltings', { type: 'string', length: 2 })).toContain('8 bytes');
  });

  it('rounds to what a register can hold and says so', () => {
    expect(encoded(61.47, { type: 'int16', scale: { factor: 0.1, offset: 0 } })).toEqual({
      words: [615],
      exact: false,
      note: '61.47 is written as 61.5 (raw 615).',
    });
    expect(encoded(0.1, { type: 'float32' })).toEqual(jasmine.objectContaining({ exact: false }));
  });

  it('is the inverse of decode for any registers of a whole or floating type', () => {
    const word = fc.integer({ min: 0, max: 0xffff });
    const types = valueTypes.filter((type) => !['string', 'bcd16', 'bcd32', 'mod10-32'].includes(type));
    const width = { int16: 1, uint16: 1, bits: 1, int32: 2, uint32: 2, float32: 2 } as Record<string, number>;
    fc.assert(
      fc.property(
        fc.constantFrom(...types),
        fc.constantFrom(...byteOrders.slice(0, 4)),
        fc.array(word, { minLength: 4, maxLength: 4 }),
        (type, order, four) => {
          const words = four.slice(0, width[type] ?? 4);
          const first = decode(words, { type, order });
          if (!first.ok) throw new Error(first.problem.message);
          if (first.value.raw === 'NaN') return;
          const back = encode(first.value.value, { type, order });
          expect(back.ok && back.value.words)
            .withContext(`${type} ${order} ${words}`)
            .toEqual(words);
        },
      ),
      { numRuns: 2000 },
    );
  });

  it('is the inverse of decode for decimal digits and text', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99_999_999 }), fc.constantFrom('bcd32' as const, 'mod10-32' as const), (value, type) => {
        const words = encode(value, { type, order: 'CDAB' });
        expect(words.ok && decoded(words.value.words, { type, order: 'CDAB' })).toEqual({ raw: value, value });
      }),
    );
    fc.assert(
      fc.property(fc.stringMatching(/^[ -~]{1,20}$/), (text) => {
        const words = encode(text, { type: 'string', order: 'BADC' });
        expect(words.ok && decoded(words.value.words, { type: 'string', order: 'BADC' })).toEqual({ raw: text, value: text });
      }),
    );
  });
});

describe('reorder', () => {
  it('undoes itself in every order', () => {
    for (const order of byteOrders) {
      const words = order.length === 8 ? [1, 2, 3, 0xabcd] : [1, 0xabcd];
      const once = reorder(words, order);
      const twice = once.ok && reorder(once.value, order);
      expect(twice && twice.ok && twice.value).toEqual(words);
    }
  });
});
