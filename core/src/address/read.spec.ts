import * as fc from 'fast-check';
import { type Area, formatAddress, nearMiss, Notation, readAddress, tables } from './index.js';

const areas: Area[] = [
  { name: 'W', table: 'holding', firstIndex: 0, offset: 0, stride: 1, count: 512, firstBit: 0 },
  { name: 'R', table: 'input', firstIndex: 1, offset: 100, stride: 2, count: 10, firstBit: 1 },
];
const readings = (text: string, options = {}) => {
  const read = readAddress(text, { areas, ...options });
  return read.ok ? read.value.map(({ table, offset, bit, notation }) => [notation, table, offset, bit]) : read.problem.message;
};

describe('readAddress', () => {
  it('reads back what any notation writes, for every table and offset', () => {
    const anywhere = fc.record({ table: fc.constantFrom(...tables), offset: fc.nat(65_535) });
    fc.assert(
      fc.property(anywhere, fc.constantFrom(...Notation.options.filter((option) => option !== 'area')), (place, notation) => {
        const text = formatAddress(place, notation);
        // Five digits end at offset 9998; the six that are written then are read as such.
        const written = notation === 'reference5' && place.offset > 9998 ? 'reference6' : notation;
        const read = readAddress(text, { table: place.table, notation: written });
        expect(read.ok && { table: read.value[0]!.table, offset: read.value[0]!.offset }).toEqual(place);
      }),
      { numRuns: 2000 },
    );
    for (const offset of [0, 1, 9998, 9999, 65_534, 65_535]) {
      expect(readings(formatAddress({ table: 'holding', offset }, 'reference6'))[0]).toEqual([
        'reference6',
        'holding',
        offset,
        null,
      ] as never);
    }
  });

  it('takes the likeliest first and keeps the other honest readings', () => {
    expect(readings('40108')).toEqual([
      ['reference5', 'holding', 107, null],
      ['pdu', null, 40_108, null],
      ['number', null, 40_107, null],
    ]);
    expect(readings('107', { table: 'input' })).toEqual([
      ['pdu', 'input', 107, null],
      ['number', 'input', 106, null],
    ]);
    expect(readings('300011')).toEqual([['reference6', 'input', 10, null]]);
    expect(readings('4x0108')).toEqual([['reference5', 'holding', 107, null]]);
    expect(readings('0x006b')).toEqual([['hex', null, 107, null]]);
    expect(readings('6Bh')).toEqual([['hex', null, 107, null]]);
    expect(readings('0')).toEqual([['pdu', null, 0, null]]);
  });

  it('refuses in words what no register has', () => {
    expect(readings('40000')).toBe(
      '40000 would be holding register 0, but references count from 1: the first is 40001. If a zero-based offset is meant, choose that notation: it is then offset 40000.',
    );
    expect(readings('465537')).toContain('references of holding registers end at 465536');
    expect(readings('0', { notation: 'number' })).toContain('One-based numbers start at 1');
    expect(readings('65536')).toContain('zero-based offsets end at 65535. If a one-based number is meant');
    expect(readings('40108', { table: 'input' })).toEqual([
      ['pdu', 'input', 40_108, null],
      ['number', 'input', 40_107, null],
    ]);
    expect(readings('400108', { table: 'input' })).toBe('400108 is a holding register, but input registers were asked for.');
    expect(readings('4010', { notation: 'reference5' })).toBe('A five-digit reference has 5 digits; 4010 has 4.');
    expect(readings('20001', { notation: 'reference5' })).toBe('A reference starts with 0, 1, 3 or 4; 20001 starts with 2.');
    expect(readings('oven')).toContain('is no address in any notation');
    expect(readings('')).toContain('An address is expected');
    expect(readings('0x1FFFF')).toContain('a table ends at 0xFFFF');
  });

  it('knows a controller’s own areas, with their first index, stride and bits', () => {
    expect(readings('W12')).toEqual([['area', 'holding', 12, null]]);
    expect(readings('w12.3')).toEqual([['area', 'holding', 12, 3]]);
    expect(readings('R3.16')).toEqual([['area', 'input', 104, 15]]);
    expect(readings('R3.0')).toBe('A bit of R is 1 to 16; R3.0 names 0.');
    expect(readings('W512')).toBe('W goes from W0 to W511; W512 is not in it.');
    expect(formatAddress({ table: 'input', offset: 104, bit: 15 }, 'area', areas)).toBe('R3.16');
  });

  it('reads a bit of a register after a point', () => {
    expect(readings('40108.3')[0]).toEqual(['reference5', 'holding', 107, 3] as never);
    expect(readings('40108.16')).toBe('A register has the bits 0 to 15; 40108.16 names 16.');
    expect(formatAddress({ table: 'holding', offset: 107, bit: 3 }, 'reference5')).toBe('40108.3');
  });
});

describe('nearMiss', () => {
  const points = [
    { name: 'Speed', table: 'holding', offset: 107 },
    { name: 'Current', table: 'holding', offset: 212 },
  ] as const;
  const near = (text: string) => nearMiss(text, points, 'reference5')?.name ?? null;
  it('names the point that one digit, or two swapped, would have been', () => {
    expect(near('40180')).toBe('Speed');
    expect(near('40155')).toBeNull();
    expect(near('40218')).toBe('Current');
    expect(near('40107')).toBe('Speed');
    expect(near('40108')).toBeNull();
  });
});
