import { fernhollow } from '../demo/index.js';
import { templateOf } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { bestFit, fitOf, fits, pointAt } from './index.js';

const demo = fernhollow();
const kept = ['Fan drive north', 'Plant meter', 'Air-on transmitter'].map((name) => ({
  name,
  ...templateOf(demo, demo.devices.find((device) => device.name === name)!.id),
}));
const [drive, meter] = kept as [(typeof kept)[number], (typeof kept)[number], (typeof kept)[number]];

/** What was heard of a device: registers one by one, of which nobody knows what they mean. */
function heard(...places: [table: 'input' | 'holding', offset: number, type?: 'uint16' | 'float32'][]) {
  const project = new SmallProject();
  const unit = project.device('Unit 11');
  for (const [table, offset, type = 'uint16'] of places)
    project.point(unit, `${table} ${offset}`, { table, offset, type, note: 'guessed' });
  return { points: project.document.points };
}

describe('A map that fits to what was heard', () => {
  it('is the one in which the registers are, and in which values begin where they were heard', () => {
    const { points } = heard(['input', 0], ['input', 1], ['input', 2], ['holding', 1]);
    expect(fitOf(drive, points)).toEqual({ of: 4, inMap: 4, alike: 4 });
    expect(bestFit(kept, points)?.name).toBe('Fan drive north');
    const reading = heard(['holding', meter.points[0]!.offset, 'float32'], ['holding', meter.points[1]!.offset, 'float32']).points;
    expect(bestFit(kept, reading)?.name).toBe('Plant meter');
  });

  it('is none where too little was heard, where more lies outside, or where values are cut otherwise', () => {
    const few = heard(['input', 0], ['input', 1]).points;
    expect(fits(fitOf(drive, few), few)).toBeFalse();
    expect(bestFit(kept, heard(['input', 0], ['input', 1], ['input', 2], ['input', 77]).points)).toBeNull();
    expect(bestFit(kept, heard(['holding', 0, 'float32'], ['holding', 2, 'float32']).points)).toBeNull();
  });

  it('has the point at a place, where it is as wide as what was heard', () => {
    const [value] = heard(['input', 1]).points;
    expect(pointAt(drive, value!)?.name).toBe('Actual speed');
    expect(pointAt(drive, { ...value!, type: 'float32' })).toBeUndefined();
  });
});
