import { fernhollow } from '../demo/index.js';
import type { Point } from '../model/index.js';
import { type CellField, cellFields, cellText, writeCell } from './index.js';

const { points, devices } = fernhollow();
const speed = points.find(({ name }) => name === 'Actual speed')!;
const context = { notation: 'number', areas: [] } as const;

const write = (point: Point, field: CellField, text: string, where: Parameters<typeof writeCell>[3] = context) => {
  const written = writeCell(point, field, text, where);
  return written.ok ? written.value.point : written.problem.message;
};

describe('the cells of a register map', () => {
  it('take back what they show, for every point of the demo', () => {
    for (const point of points) {
      const { notation, areas } = devices.find(({ id }) => id === point.deviceId)!;
      for (const field of cellFields) {
        const text = cellText(point, field, { notation, areas });
        if (field === 'order' && point.type === 'bit') continue;
        expect(write(point, field, text, { notation, areas }))
          .withContext(`${point.name} ${field} “${text}”`)
          .toEqual(point);
      }
    }
  });

  it('read an address in any notation, and keep the other readings', () => {
    expect(write(speed, 'address', '12')).toEqual({ ...speed, offset: 11 });
    expect(write(speed, 'address', '0x0B')).toEqual({ ...speed, offset: 11 });
    const reference = writeCell(speed, 'address', '30012', { notation: 'reference5', areas: [] });
    expect(reference.ok && reference.value.point.offset).toBe(11);
    expect(reference.ok && reference.value.readings.map(({ notation, offset }) => `${notation} ${offset}`)).toEqual([
      'pdu 30012',
      'number 30011',
    ]);
    expect(write(speed, 'address', '0')).toContain('One-based numbers start at 1');
    expect(write(speed, 'address', 'oven')).toContain('is no address in any notation');
  });

  it('set what follows from the table, the type and the bit', () => {
    expect(write(speed, 'address', '400012')).toEqual(jasmine.objectContaining({ table: 'holding', access: 'readWrite', offset: 11 }));
    expect(write(speed, 'table', 'coil')).toEqual(jasmine.objectContaining({ table: 'coil', type: 'bit', scale: null }));
    expect(write(speed, 'bit', '3')).toEqual(jasmine.objectContaining({ type: 'bit', bit: 3, table: 'input' }));
    expect(write(speed, 'type', 'float CDAB')).toEqual(jasmine.objectContaining({ type: 'float32', order: 'CDAB' }));
    expect(write(speed, 'type', 'string[8]')).toEqual(jasmine.objectContaining({ type: 'string', length: 4, scale: null }));
  });

  it('say what does not fit and leave the point alone', () => {
    expect(write(speed, 'access', 'read/write')).toContain('no function that writes input registers');
    expect(write(speed, 'scale', '×')).toContain('is no scale');
    expect(write(speed, 'scale', '× 0')).toContain('factor of 0');
    expect(write(speed, 'name', ' ')).toBe('A name is needed.');
    expect(write(speed, 'codes', '1 = a; 1 = b')).toBe('Code 1 is named twice.');
    expect(write(speed, 'type', 'quaternion')).toContain('no type that is known');
    expect(write(speed, 'bit', '16')).toContain('0 to 15');
  });
});
