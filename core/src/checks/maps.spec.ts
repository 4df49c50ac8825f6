import { fernhollow } from '../demo/index.js';
import { checkMaps } from './index.js';

const demo = fernhollow();

describe('checkMaps', () => {
  it('names the one value that is read in another order than its like', () => {
    const found = checkMaps(demo);
    expect(found.map(({ check, message }) => `${check}: ${message}`)).toEqual([
      'order-differs: Plant meter: Reactive energy is read in the order ABCD, but 2 other values of the type uint32 in BADC. A device seldom has two.',
    ]);
    const mended = demo.points.map((point) => (point.id === found[0]!.at.id ? { ...point, order: 'BADC' as const } : point));
    expect(checkMaps({ ...demo, points: mended })).toEqual([]);
  });

  it('says nothing where two stand against two, and of a controller’s memory', () => {
    const meter = demo.devices.find(({ name }) => name === 'Plant meter')!;
    const exported = demo.points.map((point) => (point.name === 'Exported energy' ? { ...point, order: 'ABCD' as const } : point));
    expect(checkMaps({ devices: [meter], points: exported.filter(({ name }) => name !== 'Active energy') })).toEqual([]);
    expect(checkMaps({ ...demo, devices: demo.devices.map((device) => ({ ...device, kind: 'controller' as const })) })).toEqual([]);
  });

  it('tells of each point of which something was left open at an import, and lets it be said that it is right', () => {
    const own = demo.points.find(({ name }) => name === 'Exported energy')!;
    const points = demo.points.map((point) =>
      point === own ? { ...point, note: 'Since it was built\nOpen: “zahl” is no type that is known.' } : point,
    );
    const [found, ...more] = checkMaps({ ...demo, points }).filter(({ check }) => check === 'left-open');
    expect(more).toEqual([]);
    expect(found!.message).toBe('Plant meter: of Exported energy it is open what its manual says: “zahl” is no type that is known.');
    expect(found!.fixes[0]!.changes[0]!.after).toEqual(jasmine.objectContaining({ note: 'Since it was built' }));
  });
});
