import fc from 'fast-check';
import { byteOrders, encode, findOrder } from './index.js';
import type { ValueType } from '../types/index.js';

const first = (words: readonly number[], expected: number, tolerance?: number) => findOrder(words, expected, tolerance)[0];

describe('findOrder', () => {
  it('finds the order of a float and of a 32-bit counter', () => {
    expect(first([0xcccd, 0x4276], 61.7)).toEqual(jasmine.objectContaining({ at: 0, type: 'float32', order: 'CDAB', factor: 1 }));
    expect(first([0x1200, 0x87d6], 1_234_567)).toEqual(
      jasmine.objectContaining({ type: 'uint32', order: 'BADC', factor: 1, value: 1_234_567 }),
    );
  });

  it('prefers a plain reading, and slides over the words', () => {
    expect(first([615], 61.5)).toEqual({ at: 0, type: 'uint16', order: 'ABCD', factor: 0.1, value: 61.5, difference: 0 });
    expect(first([0xffff, 9, 0x4276, 0], 61.5)).toEqual({ at: 2, type: 'float32', order: 'ABCD', factor: 1, value: 61.5, difference: 0 });
    expect(first([0xfff6], -1, 0)).toEqual(jasmine.objectContaining({ type: 'int16', factor: 0.1 }));
  });

  it('has the true reading among the first few for any float that is worth measuring', () => {
    fc.assert(
      fc.property(fc.float({ min: 1, max: 10_000, noNaN: true }), fc.constantFrom(...byteOrders.slice(0, 4)), (value, order) => {
        const words = encode(value, { type: 'float32' as ValueType, order });
        const found = words.ok ? findOrder(words.value.words, value, 0.001) : [];
        expect(found.slice(0, 3))
          .withContext(`${value} ${order}`)
          .toContain(jasmine.objectContaining({ type: 'float32', order, factor: 1 }));
      }),
    );
  });

  it('tells the nearest few where nothing is near, unless a tolerance was asked for', () => {
    expect(findOrder([3], 1e9).length).toBe(5);
    expect(findOrder([3], 1e9, 1)).toEqual([]);
  });
});
