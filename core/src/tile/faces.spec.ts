import { fernhollow } from '../demo/index.js';
import { type Point, type Tile, WatchItem } from '../model/index.js';
import { facesFor, tileSpan, tilesOf } from './index.js';

const demo = fernhollow();
const some = demo.points.find(({ type, table }) => type === 'uint16' && table === 'holding')!;
const point = (fields: Partial<Point>): Point => ({ ...some, unit: '', codes: [], bits: [], access: 'read', ...fields });
const place = (x: number, y: number, fields: Partial<Tile> = {}): Tile => ({
  ...{ face: 'number', group: '', low: null, high: null, x, y, cols: 2, rows: 1 },
  ...fields,
});

describe('the faces of tiles', () => {
  it('suit the type of the point, and what may be written there', () => {
    expect(facesFor(point({ type: 'bit', access: 'readWrite', table: 'coil' }))[0]).toBe('switch');
    expect(facesFor(point({ type: 'bit', table: 'coil' }))).toEqual(['lamp']);
    expect(facesFor(point({ type: 'bits' }))).toEqual(['lamps']);
    expect(facesFor(point({ codes: [{ value: 1, name: 'on' }], access: 'readWrite' }))[0]).toBe('selector');
    expect(facesFor(point({ codes: [{ value: 1, name: 'on' }] }))[0]).toBe('code');
    expect(facesFor(point({ type: 'string', length: 4 }))).toEqual(['text']);
    expect(facesFor(point({ access: 'readWrite' }))[0]).toBe('slider');
    expect(facesFor(point({ unit: '%' }))[0]).toBe('level');
    expect(facesFor(point({ unit: '°C' }))).toEqual(['number', 'gauge', 'trend']);
    // An input register is never written, whatever its access says.
    expect(facesFor(point({ access: 'readWrite', table: 'input' }))[0]).toBe('number');
  });

  it('are there for every point of the demo', () => {
    for (const each of demo.points) expect(facesFor(each).length).withContext(each.name).toBeGreaterThan(0);
  });

  it('are drawn between their limits, or 0 and 100 where there are none that make sense', () => {
    expect(tileSpan(place(0, 0, { low: -20, high: 60 }))).toEqual({ low: -20, high: 60 });
    expect(tileSpan(place(0, 0, { low: 60, high: 60 }))).toEqual({ low: 0, high: 100 });
    expect(tileSpan(place(0, 0))).toEqual({ low: 0, high: 100 });
  });
});

describe('the tiles of a list', () => {
  const numbers = [1, 2, 3, 4, 5, 6, 7].map((number) => point({ id: some.id.replace(/.$/, String(number)), name: `N${number}` }));
  const item = ({ id }: Point, tile?: Tile): WatchItem => ({ of: 'point', id, radix: null, ...(tile ? { tile } : {}) });
  const pointOf = ({ id }: WatchItem) => numbers.find((each) => each.id === id);
  const places = (items: readonly WatchItem[]) => tilesOf(items, pointOf).map((tile) => tile && [tile.x, tile.y]);

  it('fill the rows one after the other', () => {
    expect(places(numbers.map((each) => item(each)))).toEqual([
      [0, 0],
      [2, 0],
      [4, 0],
      [6, 0],
      [8, 0],
      [10, 0],
      [0, 1],
    ]);
  });

  it('leave those that were placed where they are, and go round them', () => {
    const items = [item(numbers[0]!), item(numbers[1]!, place(0, 0, { cols: 11, rows: 2 })), item(numbers[2]!)];
    expect(places(items)).toEqual([
      [0, 2],
      [0, 0],
      [2, 2],
    ]);
  });

  it('give a face that no longer suits up for the own one, and leave out what is gone', () => {
    const [gone, kept] = tilesOf(
      [{ of: 'point', id: demo.project.id, radix: null }, item(numbers[0]!, place(4, 4, { face: 'lamp' }))],
      pointOf,
    );
    expect(gone).toBeNull();
    expect([kept!.face, kept!.x, kept!.y]).toEqual(['number', 4, 4]);
  });

  it('are kept in a list, and a list of before has none', () => {
    expect(WatchItem.parse(item(numbers[0]!, place(1, 2))).tile).toEqual(place(1, 2));
    expect(WatchItem.parse(item(numbers[0]!)).tile).toBeUndefined();
    const wide = WatchItem.safeParse(item(numbers[0]!, place(10, 0, { cols: 3 })));
    expect(wide.error?.issues[0]?.message).toBe('It is wider than the field, which has 12 columns.');
  });
});
