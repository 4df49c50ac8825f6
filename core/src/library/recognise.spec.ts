import { fernhollow } from '../demo/index.js';
import { pointWidth, templateOf } from '../model/index.js';
import { recognise, type Span, spansOf } from './index.js';

const demo = fernhollow();
const kept = ['Fan drive north', 'Plant meter', 'Air-on transmitter', 'Burner control'].map((name) => ({
  name,
  ...templateOf(demo, demo.devices.find((device) => device.name === name)!.id),
}));
const [drive, meter] = kept as [(typeof kept)[number], (typeof kept)[number]];

/** A device that has the registers of a map, and what else is said. */
function having({ points }: (typeof kept)[number], also: (table: string, offset: number) => boolean = () => false) {
  const cells = new Set(
    points.flatMap((point) => Array.from({ length: pointWidth(point) }, (_, index) => `${point.table} ${point.offset + index}`)),
  );
  const asked: Span[] = [];
  return {
    asked,
    gives: (span: Span) => {
      asked.push(span);
      const own = Array.from({ length: span.count }, (_, index) => span.first + index);
      return Promise.resolve(own.every((offset) => cells.has(`${span.table} ${offset}`) || also(span.table, offset)));
    },
  };
}

describe('A device that says nothing of itself', () => {
  it('is told by the registers that it gives and those that it refuses', async () => {
    for (const one of kept) {
      const device = having(one);
      const told = await recognise(kept, device.gives);
      expect(told)
        .withContext(one.name)
        .toEqual(jasmine.objectContaining({ kind: 'fits', fits: [one] }));
      expect(told.requests).withContext(one.name).toBe(device.asked.length);
      expect(told.requests).toBeLessThan(50);
    }
  });

  it('is not asked twice for the same, and two maps that are alike both fit', async () => {
    const again = { ...meter, name: 'The same meter' };
    const device = having(meter);
    const told = await recognise([meter, again, drive], device.gives);
    expect(told).toEqual(jasmine.objectContaining({ kind: 'fits', fits: [meter, again] }));
    expect(new Set(device.asked.map((span) => JSON.stringify(span))).size).toBe(device.asked.length);
  });

  it('is nobody where no map fits, where it gives everything, or where it falls silent', async () => {
    expect((await recognise(kept, () => Promise.resolve(false))).kind).toBe('none');
    expect((await recognise(kept, having(drive, () => true).gives)).kind).toBe('gives more');
    let left = 2;
    expect((await recognise(kept, () => Promise.resolve(left-- > 0 ? true : null))).kind).toBe('silent');
    expect(await recognise([], having(drive).gives)).toEqual({ kind: 'none', requests: 0 });
  });

  it('is not told by a map of so few registers that many devices have them', async () => {
    const small = { ...meter, points: meter.points.slice(0, 1).map((point) => ({ ...point, type: 'uint16' as const })) };
    expect((await recognise([small], having(small).gives)).kind).toBe('none');
  });

  it('is given up after so many requests, without a guess', async () => {
    const many = Array.from({ length: 90 }, (_, index) => ({
      ...drive,
      points: drive.points.slice(0, 3).map((point, at) => ({ ...point, table: 'holding' as const, offset: 1000 + 10 * index + at })),
    }));
    const told = await recognise(many, () => Promise.resolve(false));
    expect(told.kind).toBe('none');
    expect(told.requests).toBeLessThan(65);
  });
});

describe('What is asked of a map', () => {
  it('lies together, is as long as one request reads, and is not written only', () => {
    const [point] = meter.points;
    const at = (offset: number, access: 'read' | 'write' = 'read') => ({
      ...point!,
      table: 'holding' as const,
      offset,
      access,
      type: 'uint16' as const,
    });
    const points = [...Array.from({ length: 150 }, (_, index) => at(index)), at(150, 'write'), at(200), at(200)];
    const device = { ...meter.device, functionCodes: [3], maxReadWords: 100 };
    expect(spansOf({ points, device })).toEqual([
      { table: 'holding', first: 0, count: 100 },
      { table: 'holding', first: 100, count: 50 },
      { table: 'holding', first: 200, count: 1 },
    ]);
    expect(spansOf({ points, device: { ...device, functionCodes: [4] } })).toEqual([]);
  });
});
