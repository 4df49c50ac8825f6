import { cellFields, cellOf, draftPoint, fieldOf, type MapField, mapFields } from './index.js';

const options = { notation: 'number', areas: [], table: 'holding', order: 'CDAB' } as const;
const draft = (cells: Partial<Record<MapField, string>>) => draftPoint((field) => cells[field] ?? '', options);

describe('The fields of a point', () => {
  it('are headed in manuals by words that no two of them share', () => {
    const words = ['name', 'tag', 'address', 'register', 'dec', 'function code', 'bit', 'type', 'format', 'word order', 'size', 'charset'];
    const others = ['factor', 'divide by', 'decimals', 'uom', 'rw', 'flags', 'enum', 'description'];
    for (const word of [...words, ...others]) {
      const named = mapFields.filter((field) => fieldOf(field).headers.test(word));
      expect(named.length)
        .withContext(`${word}: ${named.join(', ')}`)
        .toBe(1);
    }
  });

  it('have a label each where they have a cell', () => {
    expect(new Set(cellFields.map((field) => cellOf(field).label)).size).toBe(cellFields.length);
    expect(cellFields).not.toContain('divisor' as never);
  });

  it('make a point of a row that says little, with what is usual', () => {
    const { draft: point, problems } = draft({ address: '40', type: 'float' });
    expect(problems).toEqual([]);
    expect(point).toEqual(jasmine.objectContaining({ name: 'holding register 40', offset: 39, order: 'CDAB', access: 'readWrite' }));
  });

  it('say which cell was not understood; only one without an address keeps a row out', () => {
    const wrong: Partial<Record<MapField, string>> = {
      ...{ address: 'oven', table: 'attic', type: 'quaternion', order: 'BCDA', length: 'many', encoding: 'ebcdic' },
      ...{ scale: '×', access: 'perhaps', bits: 'on', codes: 'off' },
    };
    const { problems, open } = draft({ ...wrong, name: 'Wrong all over' });
    expect(problems.map(({ field }) => field)).toEqual(['address']);
    expect(open.map(({ field }) => field)).toEqual([
      ...(['table', 'type', 'order', 'length', 'encoding', 'scale', 'access', 'bits', 'codes'] as const),
    ]);
    expect(open.flatMap(({ word }) => word ?? [])).toEqual(['attic', 'quaternion', 'BCDA', 'perhaps']);
    expect(draft({ address: '40', type: 'uint32', length: '3' }).open).toEqual([
      { field: 'length', message: 'uint32 takes 2 registers; the row says 3.', word: null },
    ]);
    expect(draft({ address: '40', bit: '16' }).problems[0]).toEqual({ field: 'bit', message: 'The bits of a register are 0 to 15.' });
  });

  it('take a step with its unit apart, also out of the column of units; a float is not multiplied by what it is exact to', () => {
    const told = (cells: Parameters<typeof draft>[0]) => {
      const { draft: point, open } = draft({ address: '1', ...cells });
      return [point?.scale ?? null, point?.unit, open.length];
    };
    expect(told({ type: 'int16', scale: '0.1 V' })).toEqual([{ factor: 0.1, offset: 0 }, 'V', 0] as never);
    expect(told({ type: 'int16', unit: '0,5 °C' })).toEqual([{ factor: 0.5, offset: 0 }, '°C', 0] as never);
    expect(told({ type: 'float32', scale: '0.1 V' })).toEqual([null, 'V', 0] as never);
    expect(told({ type: 'int16', scale: '0.1', unit: 'kWh' })).toEqual([{ factor: 0.1, offset: 0 }, 'kWh', 0] as never);
  });

  it('take a scale from whichever column has one, the scale first', () => {
    expect(draft({ address: '1', divisor: '10' }).draft?.scale).toEqual({ factor: 0.1, offset: 0 });
    expect(draft({ address: '1', decimals: '2' }).draft?.scale).toEqual({ factor: 0.01, offset: 0 });
    expect(draft({ address: '1', scale: '× 0.5', divisor: '10' }).draft?.scale).toEqual({ factor: 0.5, offset: 0 });
    expect(draft({ address: '1', type: 'string', length: '4', scale: '× 0.5' }).draft?.scale).toBeNull();
  });

  it('keep a name that is too long in the note', () => {
    const name = 'Long '.repeat(20).trim();
    const { draft: point, remarks } = draft({ address: '1', name, note: 'As in the manual.' });
    expect(point?.name.length).toBe(79);
    expect(point?.note).toBe(`${name}\nAs in the manual.`);
    expect(remarks.length).toBe(1);
  });
});
