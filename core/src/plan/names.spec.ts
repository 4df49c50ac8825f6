import type { Route } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { deviceName, lookup } from './lookup.js';
import { Memory } from './memory.js';
import { devicesOf, namesOf } from './names.js';

/** A route with everything that a route can name. */
function full() {
  const project = new SmallProject();
  const net = project.net();
  const controller = project.controller('Controller', net);
  const [meter, drive, panel] = ['Meter', 'Drive', 'Panel'].map((name) => {
    const device = project.device(name);
    project.port(device, net);
    return device;
  }) as [typeof controller, typeof controller, typeof controller];
  const source = project.point(meter, 'Power', { offset: 1 });
  const destination = project.point(drive, 'Target', { offset: 2 });
  const edge = project.point(meter, 'Edge', { offset: 3, bit: 0, type: 'bit' });
  const allowed = project.point(panel, 'Allowed', { offset: 4, bit: 0, type: 'bit' });
  const valid = project.point(drive, 'Valid', { offset: 5, bit: 0, type: 'bit' });
  const releasing = project.point(drive, 'Release', { offset: 6 });
  const round = project.round(500);
  const route = project.route(source, destination, round, {
    carrierId: controller.id,
    trigger: { on: 'edge', pointId: edge.id },
    whileId: allowed.id,
    loss: { rule: 'hold', value: null, validId: valid.id, afterMs: 5000, stillMs: null },
    release: { pointId: releasing.id, value: 1, when: 'before' },
  });
  return { project, controller, meter, drive, panel, source, destination, edge, allowed, valid, releasing, round, route };
}

describe('what a route names', () => {
  it('is found, all of it', () => {
    const { project, controller, meter, drive, panel, route, source, destination, edge, allowed, valid, releasing, round } = full();
    const names = namesOf(route, lookup(project.document))!;
    expect(names).toEqual({ route, source, destination, round, others: [edge, allowed], valid, releasing, carrier: controller });
    expect(devicesOf(names)).toEqual([meter.id, drive.id, panel.id]);
  });

  it('is null where it names none, and undefined where what it names is gone', () => {
    const { project, route } = full();
    const plain: Route = { ...route, carrierId: null, loss: { ...route.loss, validId: null }, release: null, whileId: null };
    const look = lookup(project.document);
    expect(namesOf(plain, look)).toEqual(jasmine.objectContaining({ valid: null, releasing: null, carrier: null }));
    const lost: Route = {
      ...route,
      carrierId: 'gone',
      whileId: 'gone',
      loss: { ...route.loss, validId: 'gone' },
      release: { ...route.release!, pointId: 'gone' },
    };
    const names = namesOf(lost, look)!;
    expect([names.valid, names.releasing, names.carrier, names.others[1]]).toEqual([undefined, undefined, undefined, undefined]);
    expect(devicesOf(names).length).toBe(2);
  });

  it('is nothing where an end or the round is gone', () => {
    const { project, route } = full();
    const look = lookup(project.document);
    for (const gone of [{ sourceId: 'gone' }, { destinationId: 'gone' }, { roundId: 'gone' }])
      expect(namesOf({ ...route, ...gone }, look)).toBeNull();
  });
});

describe('what compiling looks up', () => {
  it('is worked out once in a document, and is the same in the next one while nothing changed', () => {
    const { project, meter, source, controller } = full();
    const memory = new Memory();
    const first = lookup(project.document, memory);
    expect(first.way(meter.id)).toBe(first.way(meter.id));
    expect(lookup(project.document, memory).way(meter.id)).toBe(first.way(meter.id));
    expect(first.carrierReaches(controller.id, meter.id)).toBeNull();
    expect(first.carrierReaches(meter.id, controller.id)).toContain('no port that asks');
    expect([deviceName(source, first), deviceName({ deviceId: 'gone' }, first)]).toEqual(['Meter', '']);
  });

  it('does not ask the document twice', () => {
    const { project, meter, controller } = full();
    const { document } = project;
    let asked = 0;
    const watched = new Proxy(document, {
      get: (of, key: keyof typeof document) => {
        if (key === 'ports') asked += 1;
        return of[key];
      },
    });
    const look = lookup(watched);
    look.way(meter.id);
    look.carrierReaches(controller.id, meter.id);
    const before = asked;
    expect(before).toBeGreaterThan(0);
    look.way(meter.id);
    look.carrierReaches(controller.id, meter.id);
    expect(asked).toBe(before);
  });
});
