import { fernhollow } from '../demo/index.js';
import type { Point } from '../model/index.js';
import { encode, type Value } from '../value/index.js';
import { pointLayout } from '../model/index.js';
import { align, countedName, following, plausible, stripOf } from './index.js';

const base = fernhollow().points.find(({ type }) => type === 'uint16')!;
const point = (fields: Partial<Point>): Point => ({ ...base, scale: null, unit: '', table: 'input', access: 'read', ...fields });

/** A map and the registers of a device that has it, all values where the map says. */
function device(rows: [Partial<Point>, Value][]): { points: Point[]; words: number[] } {
  const words: number[] = [];
  const points = rows.map(([fields, value], index) => {
    const made = point({ id: `p${index}`, name: `Point ${index}`, offset: words.length, ...fields });
    const encoded = encode(value, pointLayout(made)!);
    if (!encoded.ok) throw new Error(encoded.problem.message);
    words.push(...encoded.value.words);
    return made;
  });
  return { points, words };
}

const tenths = { factor: 0.1, offset: 0 };
const celsius = { type: 'int16', scale: tenths, unit: '°C' } as const;
const codes = [
  { value: 1, name: 'off' },
  { value: 2, name: 'auto' },
];
const plant = device([
  [{ type: 'uint32' }, 70_412],
  [celsius, 17.2],
  [{ unit: '%', scale: tenths }, 48.1],
  [{ codes }, 2],
  [{ type: 'float32', unit: 'kW' }, 186.4],
  [{ type: 'uint16' }, 61_002],
  [celsius, 61.5],
  [{ unit: 'Hz', scale: tenths }, 41.2],
  [{ type: 'string', length: 4 }, 'Kiln 1'],
  [{ type: 'float32', unit: '°C' }, 84.3],
  [{ type: 'uint16' }, 52_008],
  [celsius, 22.4],
]);
const read =
  (words: readonly number[], from = 0) =>
  (offset: number) =>
    words[offset - from];

describe('align', () => {
  it('leaves a map that suits as it is', () => {
    const { blocks, ranking } = align(plant.points, read(plant.words));
    expect(ranking[0]!.shift).toBe(0);
    expect(blocks.map(({ shift }) => shift)).toEqual([0]);
  });

  for (const shift of [-2, -1, 1, 2]) {
    it(`finds that everything lies ${shift} registers away, and says by what`, () => {
      const { blocks, ranking } = align(plant.points, read(plant.words, shift));
      expect(ranking[0]!.shift).toBe(shift);
      expect(blocks.length).toBe(1);
      expect(blocks[0]!.shift).toBe(shift);
      expect(blocks[0]!.why).toContain(shift > 0 ? 'later than the map says' : 'earlier than the map says');
    });
  }

  it('finds the block from which on a register is missing', () => {
    const later = plant.points.map((row) => (row.offset > 9 ? { ...row, offset: row.offset - 1 } : row));
    const { blocks } = align(later, read(plant.words));
    expect(blocks.map((block) => [block.shift, block.points.length])).toEqual([
      [0, 8],
      [1, 4],
    ]);
  });

  it('proposes nothing where nothing speaks for it', () => {
    expect(align(plant.points, () => 0).blocks.map(({ shift }) => shift)).toEqual([0]);
    expect(align(plant.points, () => undefined).ranking[0]!.shift).toBe(0);
  });
});

describe('plausible', () => {
  const scoreOf = (fields: Partial<Point>, ...words: number[]) => plausible(words, point(fields));
  it('judges by unit, type, codes, named bits and text, and says why', () => {
    expect(scoreOf(celsius, 9000)).toEqual({ score: -2, why: '900 °C is out of reach' });
    expect(scoreOf(celsius, 615).score).toBe(1);
    expect(scoreOf({ type: 'float32' }, 0x0001, 0x4276).score).toBe(-2);
    expect(scoreOf({ codes }, 7).why).toBe('7 is none of its codes');
    expect(scoreOf({ type: 'bits', bits: [{ bit: 0, name: 'ready' }] }, 0b10).why).toBe('bit 1 is set, which has no name');
    expect(scoreOf({ type: 'string', length: 1 }, 0x0102).score).toBe(-2);
    expect(scoreOf({ scale: { raw: [0, 4000], units: [0, 10] } }, 5000).score).toBe(-1.5);
    expect(scoreOf({}, 5000).score).toBe(0);
    expect(scoreOf(celsius, 0).score).toBe(0);
  });
});

describe('filling down', () => {
  it('counts names with their width kept', () => {
    expect([0, 1, 9].map((step) => countedName('Cable 1 T01', step))).toEqual(['Cable 1 T01', 'Cable 1 T02', 'Cable 1 T10']);
    expect(countedName('Zone 9 °C', 1)).toBe('Zone 10 °C');
    expect(countedName('Spare', 1)).toBe('Spare 2');
  });

  it('steps addresses by each type’s width, and bits bit by bit', () => {
    const wide = [point({ type: 'float32' }), point({ type: 'int16' }), point({ type: 'string', length: 5 }), point({})];
    expect(following({ offset: 10, bit: null }, wide).map(({ offset }) => offset)).toEqual([10, 12, 13, 18]);
    const bits = [14, 15, 0].map((bit) => point({ type: 'bit', bit }));
    expect(following({ offset: 3, bit: 14 }, bits)).toEqual([
      { offset: 3, bit: 14 },
      { offset: 3, bit: 15 },
      { offset: 4, bit: 0 },
    ]);
  });
});

describe('stripOf', () => {
  it('tells points, holes, overlaps and refused stretches apart, and covers every register once', () => {
    const points = [
      point({ offset: 2, type: 'float32' }),
      point({ offset: 3 }),
      point({ offset: 10 }),
      point({ offset: 11, type: 'bit', bit: 0 }),
      point({ offset: 11, type: 'bit', bit: 1 }),
      point({ offset: 11, type: 'bits' }),
    ];
    const strip = stripOf('input', points, [{ table: 'input', first: 6, last: 7 }])!;
    expect(strip.stretches.map(({ kind, offset, count }) => `${kind} ${offset} ${count}`)).toEqual([
      'overlap 2 2',
      'hole 4 2',
      'forbidden 6 2',
      'hole 8 2',
      'points 10 1',
      'points 11 1',
    ]);
    expect([strip.first, strip.last]).toEqual([2, 11]);
    expect(stripOf('coil', points)).toBeNull();
  });
});
