import { formatAddress } from './index.js';

const areas = [{ name: 'W', table: 'holding' as const, firstIndex: 1, offset: 100, stride: 2, count: 10, firstBit: null }];

describe('formatAddress', () => {
  it('writes a place as each kind of paper does', () => {
    const place = { table: 'input', offset: 10 } as const;
    expect(formatAddress(place, 'pdu')).toBe('10');
    expect(formatAddress(place, 'number')).toBe('11');
    expect(formatAddress(place, 'reference5')).toBe('30011');
    expect(formatAddress(place, 'reference6')).toBe('300011');
    expect(formatAddress(place, 'hex')).toBe('0x000A');
  });

  it('takes six digits where five cannot reach', () => {
    expect(formatAddress({ table: 'holding', offset: 9998 }, 'reference5')).toBe('49999');
    expect(formatAddress({ table: 'holding', offset: 9999 }, 'reference5')).toBe('410000');
    expect(formatAddress({ table: 'holding', offset: 65_535 }, 'reference6')).toBe('465536');
  });

  it('uses a controller’s own areas where they reach', () => {
    expect(formatAddress({ table: 'holding', offset: 104 }, 'area', areas)).toBe('W3');
    expect(formatAddress({ table: 'holding', offset: 105 }, 'area', areas)).toBe('400106');
    expect(formatAddress({ table: 'coil', offset: 100 }, 'area', areas)).toBe('000101');
    expect(formatAddress({ table: 'holding', offset: 120 }, 'area', areas)).toBe('400121');
  });
});
