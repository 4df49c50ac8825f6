import { fernhollow } from '../demo/index.js';
import { canBeWritten, namedBits, type Point, withBitTurned } from './index.js';

describe('the named bits of a point', () => {
  const demo = fernhollow();
  const status = demo.points.find(({ type, bits }) => type === 'bits' && bits.length > 2)!;
  const wide: Point = {
    ...status,
    length: 2,
    order: 'CDAB',
    bits: [
      { bit: 3, name: 'low' },
      { bit: 20, name: 'high' },
    ],
  };
  const states = (words: number[], point: Point) => namedBits(words, point).map(({ name, on }) => `${name} ${on}`);

  it('stand as the register holds them', () => {
    const [first, second] = status.bits;
    const word = 1 << first!.bit;
    expect(states([word], status).slice(0, 2)).toEqual([`${first!.name} true`, `${second!.name} false`]);
  });

  it('are where the order of the registers puts them, also when one is turned over', () => {
    expect(states([0x0008, 0x0000], wide)).toEqual(['low true', 'high false']);
    expect(withBitTurned([0x0008, 0x0000], wide, 20)).toEqual([0x0008, 0x0010]);
    expect(withBitTurned([0x0008, 0x0010], wide, 3)).toEqual([0x0000, 0x0010]);
  });

  it('are none where nothing was read, or where the type has no bits', () => {
    const number = demo.points.find(({ type }) => type === 'uint16')!;
    expect([namedBits(null, status), namedBits(undefined, status), namedBits([1], number), withBitTurned([1], number, 0)]).toEqual([
      [],
      [],
      [],
      null,
    ]);
  });
});

describe('a point that can be written', () => {
  it('is so by what it is and by its table', () => {
    const can = (access: Point['access'], table: Point['table']) => canBeWritten({ access, table });
    expect([can('readWrite', 'holding'), can('write', 'coil'), can('read', 'holding'), can('readWrite', 'input')]).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });
});
