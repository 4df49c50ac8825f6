import type { Point, Route } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { memoryOf } from './local-blocks.js';
import type { PlannedRequest, PlannedRoute } from './plan.js';

/** A controller that carries, with two devices. */
function plant() {
  const project = new SmallProject();
  const controller = project.device('Controller');
  const [meter, drive] = [project.device('Meter'), project.device('Drive')];
  const round = project.round(500);
  const route = (source: Point, destination: Point, fields: Partial<Route> = {}) =>
    ({ ...project.route(source, destination, round, fields), source, destination }) as unknown as PlannedRoute;
  const request = (kind: 'read' | 'write', device: typeof meter, offset: number, count: number, table: Point['table'] = 'holding') =>
    ({ kind, deviceId: device.id, table, offset, count }) as unknown as PlannedRequest;
  const at = (device: typeof meter, offset: number, fields: Partial<Point> = {}) =>
    project.point(device, `P${offset}`, { offset, ...fields });
  return { project, controller, meter, drive, route, request, at, memory: () => memoryOf(controller, project.document.points, (id) => id) };
}

describe('where a block lies in the carrier’s own memory', () => {
  it('is where its values are wanted, if nothing has to be done to them', () => {
    const { controller, meter, route, request, at, memory } = plant();
    const routes = [route(at(meter, 100), at(controller, 40)), route(at(meter, 101), at(controller, 41))];
    const direct = { first: '40', last: '43', isDirect: true, work: [] };
    expect(memory().place(request('read', meter, 100, 4), routes)).toEqual(direct);
    expect(memory().place(request('read', meter, 98, 4), routes)).toEqual({ ...direct, first: '38', last: '41' });
  });

  it('is where they come from for a write, whatever else is named there', () => {
    const { controller, meter, route, request, at, memory } = plant();
    const routes = [route(at(controller, 40), at(meter, 100)), route(at(controller, 42), at(meter, 102))];
    at(controller, 41);
    expect(memory().place(request('write', meter, 100, 3), routes)).toEqual({ first: '40', last: '42', isDirect: true, work: [] });
    const [there, back] = [at(meter, 100), at(controller, 40)];
    expect(memory().place(request('read', meter, 100, 3), [route(there, back)])?.isDirect)
      .withContext('a read would write over what is named')
      .toBeFalse();
  });

  it('has nothing else in it: not before, not after, not in another table, and not itself', () => {
    const placed = (offset: number, fields: Partial<Point> = {}) => {
      const { controller, meter, route, request, at, memory } = plant();
      const routes = [route(at(meter, 100, { type: 'uint32' }), at(controller, 40, { type: 'uint32' }))];
      at(controller, offset, fields);
      return memory().place(request('read', meter, 100, 4), routes)!.isDirect;
    };
    expect([39, 44].map((offset) => placed(offset))).toEqual([true, true]);
    expect([40, 41, 43].map((offset) => placed(offset))).toEqual([false, false, false]);
    expect([placed(39, { type: 'uint32' }), placed(38, { type: 'uint32' })]).toEqual([false, true]);
    expect([placed(41, { table: 'coil', type: 'bit' }), placed(41, { table: 'input' })]).toEqual([true, true]);
  });

  it('is free where a route does something to the value, takes a bit, or lands in another table', () => {
    const made = (far: Partial<Point>, near: Partial<Point>, fields: Partial<Route> = {}) => {
      const { controller, meter, route, request, at, memory } = plant();
      const routes = [route(at(meter, 100, far), at(controller, 40, near), fields)];
      return memory().place(request('read', meter, 100, 1), routes)!;
    };
    expect(made({}, {}).isDirect).toBeTrue();
    const value = made({}, { type: 'int16' }, { carry: 'value' });
    expect(value).toEqual({ first: '50', last: '50', isDirect: false, work: ['50: uint16 to int16, to 40 P40'] });
    expect(made({ bit: 3, type: 'bit' }, {}).isDirect).toBeFalse();
    expect(made({}, { bit: 3, type: 'bit' }).isDirect).toBeFalse();
    expect(made({}, { table: 'coil', type: 'bit' }).isDirect).toBeFalse();
    expect(made({}, {}, { transforms: [{ kind: 'scale', factor: 2, offset: 0 } as never] }).isDirect).toBeFalse();
  });

  it('is free where two routes want it in places that do not fit together, or before the first register', () => {
    const { controller, meter, route, request, at, memory } = plant();
    const apart = [route(at(meter, 100), at(controller, 40)), route(at(meter, 101), at(controller, 45))];
    expect(memory().place(request('read', meter, 100, 2), apart)).toEqual({
      ...{ first: '50', last: '51', isDirect: false },
      work: ['50: as it is, to 40 P40', '51: as it is, to 45 P45'],
    });
    const early = [route(at(meter, 105), at(controller, 2))];
    expect(memory().place(request('read', meter, 100, 6), early)!.isDirect).toBeFalse();
    expect(memory().place(request('read', meter, 103, 3), early)).toEqual({ first: '0', last: '2', isDirect: true, work: [] });
  });

  it('is past all that has a name in its table, each after the one before, and nowhere once the table is full', () => {
    const { controller, meter, drive, request, at, memory } = plant();
    at(controller, 120, { type: 'float64' });
    at(controller, 3);
    at(drive, 900);
    at(controller, 700, { table: 'input' });
    const blocks = memory();
    const place = (count: number, table: Point['table'] = 'holding') => {
      const block = blocks.place(request('read', meter, 0, count, table), []);
      return block && `${block.first} to ${block.last}`;
    };
    expect([place(5), place(1), place(7, 'input'), place(8, 'discrete'), place(4, 'coil')]).toEqual([
      '130 to 134',
      '135 to 135',
      '136 to 142',
      '0 to 7',
      '8 to 11',
    ]);
    expect([place(65_536 - 143), place(1)]).toEqual(['143 to 65535', null]);
  });

  it('is passed on from one device to another, by what has to be done', () => {
    const { controller, meter, drive, route, request, at, memory } = plant();
    const power = route(at(meter, 100), at(drive, 200, { type: 'int16' }), { carry: 'value' });
    const own = route(at(meter, 102), at(controller, 5));
    const blocks = memory();
    expect(blocks.place(request('write', drive, 199, 2), [power])?.work)
      .withContext('not fetched yet')
      .toEqual([]);
    expect(blocks.place(request('read', meter, 98, 5), [power])).toEqual({ first: '12', last: '16', isDirect: false, work: [] });
    const passed = (from: number, to: number) => ({
      ...{ first: `${to - 1}`, last: `${to}`, isDirect: false },
      work: [`${from} P100: uint16 to int16, to ${to}`],
    });
    expect(blocks.place(request('write', drive, 199, 2), [power])).toEqual(passed(14, 18));
    expect(blocks.place(request('write', meter, 199, 2), [power])?.work)
      .withContext('a write to another device')
      .toEqual([]);
    expect(blocks.place(request('read', meter, 98, 5), [power, own])).toEqual({ first: '1', last: '5', isDirect: true, work: [] });
    expect(blocks.place(request('write', drive, 199, 2), [power]))
      .withContext('out of a block that lies where another of its values is wanted')
      .toEqual(passed(3, 22));
  });
});
