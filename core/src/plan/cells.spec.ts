import type { Point, Round, Route } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { byRegister, cellsOf } from './cells.js';
import { lookup } from './lookup.js';
import { routeCells, readGroupOf } from './route-cells.js';
import type { ValidRoute } from './valid-route.js';

const project = new SmallProject();
const meter = project.device('Meter');
const drive = project.device('Drive');
const [fast, slow] = [project.round(100), project.round(2000)];
const point = (fields: Parameters<SmallProject['point']>[2], device = meter) => project.point(device, 'Point', fields);

function rowOf(source: Point, destination: Point, round: Round = fast, fields: Partial<Route> = {}): ValidRoute {
  return { route: project.route(source, destination, round, fields), round, source, destination, others: [], valid: null, release: null };
}
const cellsFor = (fields: Parameters<SmallProject['point']>[2], masks: number[] | null = null) => {
  const at = point(fields);
  return cellsOf(rowOf(at, at), at, masks, meter.id).map(({ key, bits }) => [key.replace(`${meter.id} `, ''), bits]);
};

describe('the registers that a route reads or sets', () => {
  it('are those of the point, whole or the bits of them that it has to do with', () => {
    expect(cellsFor({ table: 'input', offset: 7, type: 'float32' })).toEqual([
      ['input 7', 0xffff],
      ['input 8', 0xffff],
    ]);
    expect(cellsFor({ offset: 9, bit: 3, type: 'bit' })).toEqual([['holding 9', 8]]);
    expect(cellsFor({ table: 'coil', offset: 4, type: 'bit' })).toEqual([['coil 4', 1]]);
    expect(cellsFor({ table: 'coil', offset: 4, type: 'bit' }, [0x30])).toEqual([['coil 4', 1]]);
    expect(cellsFor({ offset: 20, type: 'uint32' }, [0x00ff, 0])).toEqual([['holding 20', 0x00ff]]);
  });

  it('are found again by the register', () => {
    const both = point({ offset: 30, type: 'uint32' });
    const second = point({ offset: 31 });
    const found = byRegister([cellsOf(rowOf(both, both), both, null, meter.id), cellsOf(rowOf(second, second), second, null, meter.id)]);
    expect([...found].map(([key, cells]) => [key.split(' ').at(-1), cells.length])).toEqual([
      ['30', 1],
      ['31', 2],
    ]);
  });
});

const itself = (deviceId: string) => deviceId;

describe('what routes share requests', () => {
  const source = point({ offset: 1 });
  const target = point({ offset: 2 }, drive);
  const groupOf = (row: ValidRoute) => routeCells(row, lookup(project.document));

  it('is worked out once for each row', () => {
    const known = lookup(project.document);
    const row = rowOf(source, target);
    expect(routeCells(row, known)).toBe(routeCells(row, known));
    expect(routeCells({ ...row }, known)).not.toBe(routeCells(row, known));
  });

  it('are reads of one carrier, round, device and table', () => {
    const plain = rowOf(source, target);
    const group = groupOf(plain).readGroup;
    const of = (row: ValidRoute) => groupOf(row).readGroup === group;
    expect(of(rowOf(point({ offset: 90 }), target))).toBeTrue();
    expect(of(rowOf(source, point({ offset: 90 })))).toBeTrue();
    expect(of(rowOf(point({ offset: 1 }, drive), target))).toBeFalse();
    expect(of(rowOf(point({ table: 'input', offset: 1 }), target))).toBeFalse();
    expect(of(rowOf(source, target, slow))).toBeFalse();
    expect(of(rowOf(source, target, fast, { carrierId: drive.id }))).toBeFalse();
    expect(readGroupOf(plain, source, itself)).toBe(group);
    expect(readGroupOf(plain, target, itself)).not.toBe(group);
  });

  it('are writes that also come from one device, or set bits, or are released alike', () => {
    const group = groupOf(rowOf(source, target)).writeGroup;
    const of = (row: ValidRoute) => groupOf(row).writeGroup === group;
    expect(of(rowOf(point({ offset: 50 }), point({ offset: 51 }, drive)))).toBeTrue();
    expect(of(rowOf(point({ offset: 50 }, drive), target)))
      .withContext('from another device')
      .toBeFalse();
    expect(of(rowOf(source, target, slow))).toBeFalse();
    expect(of(rowOf(source, target, fast, { carrierId: drive.id }))).toBeFalse();
    expect(of(rowOf(source, point({ offset: 2 })))).toBeFalse();
    expect(of(rowOf(source, point({ table: 'coil', type: 'bit', offset: 2 }, drive)))).toBeFalse();
    const release = { pointId: target.id, value: 1, when: 'before' } as const;
    const released = groupOf(rowOf(source, target, fast, { release }));
    expect(released.writeGroup).not.toBe(group);
    expect(groupOf(rowOf(source, point({ offset: 9 }, drive), fast, { release: { ...release } })).writeGroup).toBe(released.writeGroup);
    for (const other of [
      { ...release, value: 2 },
      { ...release, when: 'after' as const },
      { ...release, pointId: source.id },
    ])
      expect(groupOf(rowOf(source, target, fast, { release: other })).writeGroup).not.toBe(released.writeGroup);
  });

  it('are all writes to bits of one register, wherever they come from; coils are written whole', () => {
    const bit = (deviceId: typeof meter, index: number) => point({ offset: 60, bit: index, type: 'bit' }, deviceId);
    const value = { carry: 'value' } as const;
    const one = groupOf(rowOf(bit(meter, 1), bit(drive, 1), fast, value));
    const other = groupOf(rowOf(bit(drive, 2), bit(drive, 5), fast, value));
    expect([one.isPartial, other.isPartial, one.writeGroup === other.writeGroup]).toEqual([true, true, true]);
    expect(one.written.map(({ bits }) => bits)).toEqual([2]);
    const coil = groupOf(rowOf(bit(meter, 1), point({ table: 'coil', offset: 3, type: 'bit' }, drive), fast, value));
    expect([coil.isPartial, coil.written.length]).toEqual([false, 1]);
    expect(groupOf(rowOf(source, target)).isPartial).toBeFalse();
  });

  it('know whether a value could be more than its destination holds', () => {
    const unknown = point({ offset: 70, type: 'float32' });
    expect(groupOf(rowOf(unknown, target, fast, { carry: 'value' })).mayOverflow).toBeTrue();
    expect(groupOf(rowOf(point({ offset: 70, type: 'uint32' }), target, fast, { carry: 'value' })).mayOverflow)
      .withContext('known to be too large is another finding')
      .toBeFalse();
    expect(groupOf(rowOf(source, point({ offset: 70, type: 'uint32' }, drive), fast, { carry: 'value' })).mayOverflow).toBeFalse();
  });
});
