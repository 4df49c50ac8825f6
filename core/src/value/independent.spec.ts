import fc from 'fast-check';
import { type ByteOrder, decode, encode } from './index.js';
import type { ValueType } from '../types/index.js';

/** The same computed in another way: by arithmetic on bytes, never through the views that the code itself uses. */
const shuffles: Record<number, Record<string, number[]>> = {
  2: { ABCD: [0, 1], CDAB: [0, 1], BADC: [1, 0], DCBA: [1, 0] },
  4: { ABCD: [0, 1, 2, 3], CDAB: [2, 3, 0, 1], BADC: [1, 0, 3, 2], DCBA: [3, 2, 1, 0] },
  8: {
    ABCDEFGH: [0, 1, 2, 3, 4, 5, 6, 7],
    GHEFCDAB: [6, 7, 4, 5, 2, 3, 0, 1],
    BADCFEHG: [1, 0, 3, 2, 5, 4, 7, 6],
    HGFEDCBA: [7, 6, 5, 4, 3, 2, 1, 0],
  },
};

function plainBytes(words: readonly number[], order: string): number[] {
  const wire = words.flatMap((word) => [Math.floor(word / 256), word % 256]);
  const shuffle = shuffles[wire.length]![order]!;
  return shuffle.map((at) => wire[at]!);
}

function unsigned(bytes: readonly number[]): bigint {
  return bytes.reduce((sum, byte) => sum * 256n + BigInt(byte), 0n);
}

function signed(bytes: readonly number[]): bigint {
  const all = unsigned(bytes);
  const half = 2n ** BigInt(bytes.length * 8 - 1);
  return all >= half ? all - 2n * half : all;
}

/** IEEE 754 by its definition: sign, exponent and fraction. */
function float(bytes: readonly number[]): number {
  const [exponentBits, fractionBits] = bytes.length === 4 ? [8, 23] : [11, 52];
  const all = unsigned(bytes);
  const sign = all >> BigInt(exponentBits + fractionBits) ? -1 : 1;
  const exponent = Number((all >> BigInt(fractionBits)) & ((1n << BigInt(exponentBits)) - 1n));
  const fraction = Number(all & ((1n << BigInt(fractionBits)) - 1n)) / 2 ** fractionBits;
  const bias = 2 ** (exponentBits - 1) - 1;
  if (exponent === 2 * bias + 1) return fraction ? NaN : sign * Infinity;
  return exponent === 0 ? sign * fraction * 2 ** (1 - bias) : sign * (1 + fraction) * 2 ** (exponent - bias);
}

const expectedOf: Partial<Record<ValueType, [words: number, expected: (bytes: readonly number[]) => bigint | number]>> = {
  uint16: [1, unsigned],
  int16: [1, signed],
  uint32: [2, unsigned],
  int32: [2, signed],
  uint64: [4, unsigned],
  int64: [4, signed],
  float32: [2, float],
  float64: [4, float],
};

describe('decode, computed in another way', () => {
  for (const [type, [width, expected]] of Object.entries(expectedOf) as [
    ValueType,
    [number, (bytes: readonly number[]) => bigint | number],
  ][]) {
    it(`agrees for ${type} in every order`, () => {
      const orders = Object.keys(shuffles[width * 2]!);
      const edge = fc.constantFrom(0, 1, 0x7f80, 0x7fff, 0x8000, 0xff80, 0xffff, 0x7ff0, 0xfff0);
      const word = fc.oneof(edge, fc.integer({ min: 0, max: 0xffff }));
      fc.assert(
        fc.property(fc.array(word, { minLength: width, maxLength: width }), fc.constantFrom(...orders), (words, order) => {
          const decoded = decode(words, { type, order: order as ByteOrder });
          const wanted = expected(plainBytes(words, order));
          expect(decoded.ok && String(decoded.value.value))
            .withContext(`${type} ${order} ${words.join(' ')}`)
            .toBe(String(wanted));
        }),
        { numRuns: 1000 },
      );
    });
  }

  it('keeps the sign of zero, infinities, NaN and the largest values both ways', () => {
    const held = (value: number | string, type: ValueType) => {
      const words = encode(value, { type });
      return words.ok ? words.value.words : words.problem.message;
    };
    expect(held(-0, 'float32')).toEqual([0x8000, 0]);
    const zero = decode([0x8000, 0], { type: 'float32' });
    expect(zero.ok && Object.is(zero.value.value, -0)).toBeTrue();
    expect(held(Infinity, 'float32')).toEqual([0x7f80, 0]);
    expect(held('-Infinity', 'float64')).toEqual([0xfff0, 0, 0, 0]);
    expect(held('NaN', 'float32')).toEqual([0x7fc0, 0]);
    expect(held('18446744073709551615', 'uint64')).toEqual([0xffff, 0xffff, 0xffff, 0xffff]);
    expect(held('-9223372036854775808', 'int64')).toEqual([0x8000, 0, 0, 0]);
    expect(held('9223372036854775808', 'int64')).toContain('does not fit');
  });

  it('takes −0.1 at one decimal for a raw −1, and names the digit that is none', () => {
    const tenths = { type: 'int16', scale: { factor: 0.1, offset: 0 } } as const;
    expect(encode(-0.1, tenths)).toEqual({ ok: true, value: { words: [0xffff], exact: true } });
    expect(decode([0xffff], tenths)).toEqual({ ok: true, value: { raw: -1, value: -0.1 } });
    const digits = decode([0x1b34, 0x5678], { type: 'bcd32' });
    expect(!digits.ok && digits.problem.message).toContain('Digit 2 from the left is B');
  });
});
