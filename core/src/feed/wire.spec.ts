import {
  feedId,
  feedKinds,
  FeedReader,
  feedRow,
  feedText,
  FromPage,
  newCounters,
  type Reading,
  type RouteState,
  type Values,
} from './index.js';

const reading: Reading = { pointId: 'p', words: [734, 0], quality: 'stale', reason: 'It is “old”.', atMs: 1_700_000_000_000 };
const route: RouteState = {
  ...{ routeId: 'r', quality: 'good', reason: null, writtenWords: [1], writtenAtMs: 5, sourceAtMs: 4 },
  ...{ age: null, failures: 0, isLost: false, isForced: true },
};

describe('a row of the live feed', () => {
  it('comes out as it went in, whatever its kind', () => {
    const rows = { points: reading, routes: route, devices: newCounters('d'), requests: newCounters('q') };
    for (const kind of feedKinds) {
      const [place, ...fields] = JSON.parse(`[7,${feedText(kind, rows[kind])}]`) as [number, ...unknown[]];
      expect(place).toBe(7);
      expect(feedRow(kind, feedId(kind, rows[kind]), fields)).toEqual(rows[kind]);
    }
  });

  it('names no field and no id', () => {
    expect(feedText('points', reading)).toBe('[734,0],"stale","It is “old”.",1700000000000');
  });

  it('is told to a thousandth, at any depth', () => {
    const counters = { ...newCounters('d'), meanMs: 1 / 3, ahead: { tries: 2.00049, silent: 0 } };
    const text = feedText('devices', counters);
    expect(text).toContain('0.333');
    expect(text).toContain('{"tries":2,"silent":0}');
    expect(text).not.toContain('0.3333');
  });
});

describe('what a page looks at', () => {
  const watch = { number: 1, points: ['p'], routes: [], devices: [], requests: [] };

  it('is four lists and a number', () => {
    expect(FromPage.safeParse({ watch }).success).toBeTrue();
    for (const wrong of [
      { ...watch, number: -1 },
      { ...watch, points: [7] },
      { ...watch, routes: undefined },
      { ...watch, more: [] },
    ])
      expect(FromPage.safeParse({ watch: wrong }).success).toBeFalse();
  });
});

describe('FeedReader', () => {
  const values = (watch: number, place: number): Values => ({
    watch,
    points: [[place, ...(JSON.parse(`[${feedText('points', reading)}]`) as unknown[])]],
  });

  it('reads rows by the lists of the watch that they belong to, also when another was sent meanwhile', () => {
    const reader = new FeedReader();
    const first = reader.watch({ points: ['p', 'q'] });
    const second = reader.watch({ points: ['q'] });
    expect([first.watch.number, second.watch.number]).toEqual([1, 2]);
    expect(reader.read(values(1, 1)).readings.map(({ pointId }) => pointId)).toEqual(['q']);
    expect(reader.read(values(2, 0)).readings).toEqual([{ ...reading, pointId: 'q' }]);
    expect(reader.read(values(1, 0)).readings).toEqual([]);
  });

  it('passes by what no watch has asked for', () => {
    const reader = new FeedReader();
    expect(reader.read(values(3, 0)).readings).toEqual([]);
    reader.watch({ points: ['p'] });
    expect(reader.read(values(1, 5)).readings).toEqual([]);
    expect(reader.read({ watch: 1 })).toEqual({ readings: [], routes: [], devices: [], requests: [] });
  });
});
