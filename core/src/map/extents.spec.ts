import { blankPoint, type Point } from '../model/index.js';
import { extentsOf } from './index.js';

describe('the registers that a device has by its map', () => {
  const ids = { id: 'p', projectId: 'x', deviceId: 'd' };
  const at = (offset: number, fields: Partial<Point> = {}): Point => ({ ...blankPoint(ids), offset, ...fields });
  const points = [at(20), at(10, { type: 'uint32' }), at(12), at(5, { table: 'coil', type: 'bit' }), at(12, { type: 'bit', bit: 3 })];

  it('are where its points are, table by table, those that touch or overlap as one stretch', () => {
    expect(extentsOf(points, false)).toEqual({
      holding: [
        [10, 12],
        [20, 20],
      ],
      coil: [[5, 5]],
    });
  });

  it('go through where what lies between may be read', () => {
    expect(extentsOf(points, true)).toEqual({ holding: [[10, 20]], coil: [[5, 5]] });
    expect(extentsOf([], true)).toEqual({});
  });

  it('end where the longest ends, whichever begins last', () => {
    expect(extentsOf([at(0, { type: 'string', length: 10 }), at(3)], false)).toEqual({ holding: [[0, 9]] });
  });
});
