import { Coupler, type CouplerModule } from '../modules/index.js';
import { applyChanges, Device, type Point, readPoint } from '../model/index.js';
import { countedIds, SmallProject } from '../testing/index.js';
import { channelsOf, couplerChanges } from './index.js';

const coupler = (modules: Partial<CouplerModule>[], fields: object = {}) => Coupler.parse({ modules, ...fields });
const analog = { name: 'AI', inWords: 2, range: '4–20 mA' as const };
const digital = { name: 'DI', inBits: 3 };
const places = (of: Coupler) =>
  channelsOf(of).map(
    ({ name, point, problem }) =>
      `${name} ${point ? `${point.table} ${point.offset}${point.bit === null ? '' : `.${point.bit}`}` : problem}`,
  );

describe('The channels of a coupler', () => {
  it('lie where its image puts them, words before bits, in the registers of each direction', () => {
    const made = coupler([digital, analog, { name: 'DO', outBits: 2 }, { name: 'AO', outWords: 1 }], { inAt: 100, outAt: 600 });
    expect(places(made)).toEqual([
      ...['AI 1 input 100', 'AI 2 input 101', 'DI 1 input 102.0', 'DI 2 input 102.1', 'DI 3 input 102.2'],
      ...['AO 1 holding 600', 'DO 1 holding 601.0', 'DO 2 holding 601.1'],
    ]);
    expect(channelsOf(made).map(({ point }) => point!.access)).toEqual([
      ...(['read', 'read', 'read', 'read', 'read', 'readWrite', 'readWrite', 'readWrite'] as const),
    ]);
  });

  it('are bits of the other byte, or bits apart, where the papers say so', () => {
    expect(places(coupler([digital], { lowByteFirst: false }))[0]).toBe('DI 1 input 0.8');
    const apart = coupler([digital, { name: 'DI2', inBits: 1 }, { name: 'DO', outBits: 1 }], {
      bitsApart: true,
      bitsInAt: 10,
      bitsOutAt: 20,
    });
    expect(places(apart)).toEqual(['DI 1 discrete 10', 'DI 2 discrete 11', 'DI 3 discrete 12', 'DI2 1 discrete 13', 'DO 1 coil 20']);
  });

  it('that would begin within a register are no points, and say why', () => {
    const rows = channelsOf(coupler([digital, analog], { rule: 'in-order', align: 'byte' }));
    expect(rows.find(({ name }) => name === 'AI 1')!.problem).toBe(
      'It begins at byte 1, in the middle of a register; let each module begin with a word.',
    );
    expect(places(coupler([digital, analog], { rule: 'in-order' }))[3]).toBe('AI 1 input 1');
  });

  it('have the names that are given, else those of their module, each once', () => {
    const mixed = { name: 'Mix', inWords: 1, inBits: 1, channels: 'Level' };
    expect(places(coupler([mixed, { ...digital, channels: 'Door, , Door' }])).map((text) => text.split(' input')[0])).toEqual([
      ...['Level', 'Mix bit in 1', 'Door', 'DI 2', 'Door (2)'],
    ]);
  });

  it('are scaled from what they measure to their unit, or to that of the plant, and know a broken wire', () => {
    const value = (module: Partial<CouplerModule>, raw: number) => {
      const { point } = channelsOf(coupler([{ name: 'AI', inWords: 1, ...module }]))[0]!;
      const read = readPoint([raw & 0xffff], point as Point);
      return [read.ok && read.value.value, point!.unit, ...point!.codes.map(({ value: code, name }) => `${code} ${name}`)];
    };
    expect(value({ range: '4–20 mA' }, 0)).toEqual([4, 'mA']);
    expect(value({ range: '4–20 mA', rawHigh: 27_648, wireBreak: 32_767 }, 27_648)).toEqual([20, 'mA', '32767 wire break']);
    expect(value({ range: '4–20 mA', rawHigh: 30_000, unitsLow: 0, unitsHigh: 6, unit: 'bar' }, 15_000)).toEqual([3, 'bar']);
    expect(value({ range: '±10 V' }, -32_768)).toEqual([-10, 'V']);
    expect(value({ range: 'Pt100', wireBreak: -32_768 }, -125)).toEqual([-12.5, '°C', '-32768 wire break']);
    expect(value({}, 65_535)).toEqual([65_535, '']);
    expect(channelsOf(coupler([analog]))[0]!.point!.note).toContain('below 4 mA the wire is broken');
  });

  it('refuse ranges without width and half of a span, at their place', () => {
    const why = (module: object) =>
      Coupler.safeParse({ modules: [{ name: 'AI', ...module }] }).error?.issues.map(({ path, message }) => [path.at(-1), message]);
    expect(why({ rawLow: 5, rawHigh: 5 })).toEqual([['rawHigh', 'The high end is above the low end.']]);
    expect(why({ unitsLow: 0 })).toEqual([['unitsHigh', 'Say both ends, or none.']]);
    expect(why({ unitsLow: 1, unitsHigh: 1 })).toEqual([['unitsHigh', 'The range has no width.']]);
  });
});

describe('The map of a coupler', () => {
  it('is made of its modules, and follows them: points keep their ids, notes and routes', () => {
    const project = new SmallProject();
    const device = project.device('Coupler');
    const newId = countedIds('019aa999');
    const first = couplerChanges(project.document, device, coupler([analog]), newId);
    const made = applyChanges(project.document, first);
    expect(made.points.map(({ name, offset }) => [name, offset])).toEqual([
      ['AI 1', 0],
      ['AI 2', 1],
    ]);
    const noted = { ...made, points: made.points.map((point) => ({ ...point, note: 'Seen' })) };
    const changes = couplerChanges(noted, made.devices[0]!, coupler([{ name: 'AX', inWords: 1 }, analog]), newId);
    const after = applyChanges(noted, changes);
    expect(after.points.map(({ name, offset, note }) => [name, offset, note])).toEqual([
      ['AI 1', 1, 'Seen'],
      ['AI 2', 2, 'Seen'],
      ['AX 1', 0, ''],
    ]);
    expect(after.points[0]!.id).toBe(made.points[0]!.id);
    expect(Device.parse(after.devices[0]).coupler!.modules.length).toBe(2);
    expect(couplerChanges(after, after.devices[0]!, after.devices[0]!.coupler!, newId)).toEqual([]);
  });
});
