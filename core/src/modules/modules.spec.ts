import fc from 'fast-check';
import { imageOf, type ImageRule, type Module } from './index.js';

const none = { bits: 0, words: 0 };
const module = (name: string, words: number, bits: number): Module => ({ name, in: { words, bits }, out: none });
const places = (modules: Module[], rule: ImageRule) =>
  imageOf(modules, 'in', rule).channels.map(
    ({ module: of, number, byte, bit }) => `${of}${number} ${byte}${bit === null ? '' : `.${bit}`}`,
  );

describe('the process image of a coupler', () => {
  const slots = [module('a', 0, 4), module('b', 1, 0), module('c', 0, 6), module('d', 1, 1)];

  it('has all words before all bits, packed over modules', () => {
    expect(places(slots, { rule: 'words-first', align: 'byte' })).toEqual([
      ...['b1 0', 'd1 2', 'a1 4.0', 'a2 4.1', 'a3 4.2', 'a4 4.3'],
      ...['c1 4.4', 'c2 4.5', 'c3 4.6', 'c4 4.7', 'c5 5.0', 'c6 5.1', 'd1 5.2'],
    ]);
    expect(imageOf(slots, 'in', { rule: 'words-first', align: 'byte' }).size).toEqual({ words: 2, bits: 11, bytes: 6 });
    expect(imageOf(slots, 'out', { rule: 'words-first', align: 'byte' })).toEqual({ size: { words: 0, bits: 0, bytes: 0 }, channels: [] });
  });

  it('goes slot by slot, each begun where its papers say', () => {
    const firsts = (align: ImageRule['align']) => places(slots, { rule: 'in-order', align }).filter((text) => /^.1 /.test(text));
    expect(firsts('bit')).toEqual(['a1 0.0', 'b1 1', 'c1 3.0', 'd1 4', 'd1 6.0']);
    expect(firsts('byte')).toEqual(['a1 0.0', 'b1 1', 'c1 3.0', 'd1 4', 'd1 6.0']);
    expect(firsts('word')).toEqual(['a1 0.0', 'b1 2', 'c1 4.0', 'd1 6', 'd1 8.0']);
    const halves = [module('a', 0, 4), module('b', 0, 4)];
    expect(places(halves, { rule: 'in-order', align: 'bit' })[4]).toBe('b1 0.4');
    expect(places(halves, { rule: 'in-order', align: 'byte' })[4]).toBe('b1 1.0');
  });

  it('has each channel once, and no two at one place, whatever the modules', () => {
    const any = fc.array(fc.record({ bits: fc.nat(20), words: fc.nat(5) }), { minLength: 1, maxLength: 12 });
    const rules = fc.record({ rule: fc.constantFrom('words-first', 'in-order'), align: fc.constantFrom('bit', 'byte', 'word') });
    fc.assert(
      fc.property(any, rules, (channels, rule) => {
        const modules = channels.map((own, index) => ({ name: String(index), in: own, out: none }));
        const { size, channels: all } = imageOf(modules, 'in', rule as ImageRule);
        const taken = all.flatMap(({ byte, bit }) =>
          bit === null ? Array.from({ length: 16 }, (_, at) => byte * 8 + at) : [byte * 8 + bit],
        );
        expect(new Set(taken).size).toBe(taken.length);
        expect(Math.max(-1, ...taken)).toBeLessThan(size.bytes * 8);
        expect(all.length).toBe(size.bits + size.words);
      }),
    );
  });
});
