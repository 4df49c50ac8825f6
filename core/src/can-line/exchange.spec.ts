import type { CanFrame } from '../can/index.js';
import { type CarriedFrame, framesOn } from '../converter/index.js';
import { fernhollow } from '../demo/index.js';
import { blankPoint, type Point, pointLayout, pointWidth } from '../model/index.js';
import { toHex } from '../frame/index.js';
import { encode } from '../value/index.js';
import {
  CanExchange,
  frameRefreshOf,
  identifiersOf,
  knownFrame,
  partsOfRecords,
  putSignal,
  signalHolds,
  timeOfBus,
  wordsOfSignal,
} from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'can')!;
const ids = { projectId: demo.project.id, deviceId: demo.frames[0]!.deviceId };

function frame(id: string, fields: Partial<CarriedFrame>, points: (Partial<Point> & Pick<Point, 'name'>)[] = []): CarriedFrame {
  return {
    ...{ ...ids, id, name: id, direction: 'sent', identifierBits: 11, identifier: 0x123, bytes: 8, fill: '', deviceName: 'Node' },
    ...{ when: { on: 'period', periodMs: 100 }, lostAfterMs: 300, whole: null },
    ...fields,
    points: points.map((point, index): Point => ({ ...blankPoint({ id: `${id} ${index}`, ...ids }), ...point })),
  };
}
const bits = (frameId: string, firstBit: number, count: number, order: 'little' | 'big' = 'little') =>
  ({ place: { kind: 'signal', frameId, firstBit, bits: count, order, pinned: false } }) as const;
const state = (frameId: string, name: 'valid' | 'count' | 'lost' | 'done') =>
  ({ place: { kind: 'frameState', frameId, state: name, pinned: false } }) as const;

/** An end whose values are kept by name. */
function end(frames: readonly CarriedFrame[], as: 'converter' | 'device' = 'converter') {
  const words = new Map<string, number[]>();
  const sent: string[] = [];
  const identifiers: number[] = [];
  const bus = { isFull: false };
  const exchange = new CanExchange({
    ...{ frames, as },
    memory: {
      read: (point) => words.get(point.name) ?? Array.from({ length: pointWidth(point) }, () => 0),
      write: (point, value) => void words.set(point.name, value),
    },
    send: ({ data, identifier }) => {
      identifiers.push(identifier);
      return !bus.isFull && sent.push(toHex(data).replaceAll(' ', '').toLowerCase()) > 0;
    },
  });
  return { exchange, words, sent, identifiers, bus, counters: (nowMs = 0) => exchange.state(nowMs).frames[0]! };
}
const came = (hex: string, identifier = 0x123, identifierBits: 11 | 29 = 11): CanFrame => ({
  ...{ identifierBits, identifier },
  data: Uint8Array.from(hex.match(/../g) ?? [], (byte) => parseInt(byte, 16)),
});

describe('One end of a line of CAN', () => {
  const heard = frame('f', {}, [
    { name: 'Speed', type: 'int16', ...bits('f', 8, 12) },
    { name: 'On', type: 'bit', bit: 0, ...bits('f', 23, 1) },
    { name: 'Level', type: 'uint32', ...bits('f', 39, 24, 'big') },
    { name: 'Valid', type: 'bit', bit: 1, ...state('f', 'valid') },
    { name: 'Count', type: 'uint16', ...state('f', 'count') },
    { name: 'Lost', type: 'uint16', ...state('f', 'lost') },
  ]);

  it('puts what a frame says into its points, with their sign, in either order of bytes', () => {
    const { exchange, words } = end([heard]);
    exchange.hear(came('00FE8F0001020300'), 0);
    expect([...words]).toEqual([
      ['Speed', [0xfffe]],
      ['On', [1]],
      ['Level', [0x01, 0x0203]],
      ['Valid', [1]],
      ['Count', [1]],
      ['Lost', [0]],
    ]);
  });

  it('takes a frame for lost after its time, counts that once, and until the next that comes', () => {
    const { exchange, words } = end([heard]);
    exchange.step(0);
    expect([words.get('Valid'), words.get('Lost')])
      .withContext('none came yet')
      .toEqual([[0], [0]]);
    exchange.hear(came('0000000000000000'), 1000);
    exchange.step(1300);
    expect(words.get('Valid')).toEqual([1]);
    for (const now of [1301, 1400]) exchange.step(now);
    expect([words.get('Valid'), words.get('Lost')]).toEqual([[0], [1]]);
    exchange.hear(came('0000000000000000'), 2000);
    expect([words.get('Valid'), words.get('Count'), exchange.ageOf('f', 2100)]).toEqual([[1], [2], 100]);
  });

  it('takes nothing of a frame that is too short, and knows frames by their identifier and its bits', () => {
    const { exchange, words, counters } = end([heard]);
    exchange.hear(came('00FE8F'), 0);
    exchange.hear(came('00FE8F0001020300', 0x124), 0);
    exchange.hear(came('00FE8F0001020300', 0x123, 29), 0);
    exchange.hear({ ...came('00FE8F0001020300'), isRemote: true }, 0);
    expect([...words.keys()]).toEqual([]);
    expect([counters().count, counters().damaged, counters().problem]).toEqual([0, 1, 'It came with 3 of its 8 bytes.']);
    expect(exchange.state(0).unknown).toBe(2);
  });

  describe('sends', () => {
    const command = (when: CarriedFrame['when']) =>
      frame('c', { direction: 'taken', bytes: 3, fill: 'A50F', when }, [
        { name: 'Wanted', type: 'uint16', ...bits('c', 8, 8) },
        { name: 'Toggle', type: 'bit', bit: 0, ...bits('c', 16, 1) },
      ]);

    it('at its period, what its bytes hold beside its signals with it', () => {
      const { exchange, sent, words } = end([command({ on: 'period', periodMs: 100 })]);
      exchange.begin();
      for (const now of [0, 50, 99, 100, 130]) exchange.step(now);
      words.set('Wanted', [0x42]);
      exchange.step(200);
      expect(sent).toEqual(['a50000', 'a50000', 'a54200']);
    });

    it('when a value has changed, or the bit that says so, from the first change after the start', () => {
      for (const [when, expected] of [
        [{ on: 'change', atLeastMs: null }, ['a50100', 'a50101', 'a50201']],
        [{ on: 'toggle', firstBit: 16, bits: 1 }, ['a50101']],
      ] as const) {
        const { exchange, sent, words } = end([command(when)]);
        exchange.begin();
        words.set('Wanted', [1]);
        for (const now of [0, 10]) exchange.step(now);
        words.set('Toggle', [1]);
        exchange.step(20);
        words.set('Wanted', [2]);
        exchange.step(30);
        expect(sent)
          .withContext(when.on)
          .toEqual([...expected]);
      }
    });

    it('once at the start, and again where the bus did not take it', () => {
      const { exchange, sent, bus, counters } = end([command({ on: 'start' })]);
      exchange.begin();
      bus.isFull = true;
      exchange.step(0);
      expect(counters().problem).toContain('has not been sent yet');
      bus.isFull = false;
      for (const now of [10, 20]) exchange.step(now);
      expect([sent, counters().problem, counters().count]).toEqual([['a50000'], null, 1]);
    });

    it('no frame that says something else than a value that does not fit', () => {
      const { exchange, sent, words, counters } = end([command({ on: 'period', periodMs: 100 })]);
      exchange.begin();
      words.set('Wanted', [256]);
      exchange.step(0);
      expect(sent).toEqual([]);
      expect(counters().problem).toContain('does not fit; 8 bits hold 0 to 255');
    });

    it('as the device what that sends, and hears what it takes', () => {
      const both = [heard, command({ on: 'period', periodMs: 100 })];
      const { exchange, sent, words } = end(both, 'device');
      exchange.hear(came('a50700'), 0);
      exchange.step(0);
      expect([sent.length, words.get('Wanted')]).toEqual([1, [7]]);
    });
  });
});

describe('Frames that a converter passes whole', () => {
  const whole = (direction: CarriedFrame['direction'], records: number, mask = 0x7f0): CarriedFrame => {
    const own = frame('w', { direction, whole: { mask, records }, when: { on: 'change', atLeastMs: null } });
    const told = direction === 'sent' ? (['valid', 'count'] as const) : (['done'] as const);
    const points = [...partsOfRecords(own), ...told.map((name) => ({ name, type: 'uint16' as const, ...state('w', name) }))];
    return { ...own, points: points.map((point, index): Point => ({ ...blankPoint({ id: `w ${index}`, ...ids }), ...point })) };
  };
  const record = (words: ReadonlyMap<string, number[]>, name: string) => [
    ...['count', 'length', 'identifier', 'data 0', 'data 2', 'data 4', 'data 6'].map((part) =>
      (words.get(`${name} ${part}`) ?? []).map((word) => word.toString(16)).join(' '),
    ),
  ];

  it('are known by the bits of their identifier that count, after those that are known one by one', () => {
    const [all, one] = [whole('sent', 1), frame('one', { identifier: 0x125 })];
    const known = (identifier: number, identifierBits: 11 | 29 = 11) => knownFrame([all, one], { identifier, identifierBits })?.id;
    expect([known(0x12f), known(0x125), known(0x133), known(0x12f, 29)]).toEqual(['w', 'one', undefined, undefined]);
    expect([identifiersOf(all), identifiersOf(one), identifiersOf({ ...all, whole: { mask: 0x70f, records: 1 } })]).toEqual([
      '120 to 12F',
      '125',
      '103 where 70F of it fits',
    ]);
  });

  it('go into one record after the other, and from the last into the first again', () => {
    const { exchange, words, counters } = end([whole('sent', 2)]);
    exchange.step(0);
    expect(words.get('valid')).toEqual([0]);
    exchange.hear(came('0102030405060708', 0x121), 10);
    exchange.hear(came('AABBCC', 0x12f), 20);
    expect(record(words, 'w 1')).toEqual(['1', '8', '0 121', '102', '304', '506', '708']);
    expect(record(words, 'w 2')).toEqual(['2', '3', '0 12f', 'aabb', 'cc00', '0', '0']);
    exchange.hear(came('', 0x120), 30);
    exchange.hear(came('01', 0x130), 30);
    exchange.hear({ ...came('01', 0x120), isRemote: true }, 30);
    expect(record(words, 'w 1')).toEqual(['3', '0', '0 120', '0', '0', '0', '0']);
    expect([words.get('valid'), words.get('count'), counters().count, exchange.state(30).unknown]).toEqual([[1], [3], 3, 1]);
    expect(exchange.state(40).strangers.map(({ identifier, bytes, count, ageMs }) => [identifier, bytes, count, ageMs]))
      .withContext('none of them is known by itself')
      .toEqual([
        [0x121, 8, 1, 30],
        [0x12f, 3, 1, 20],
        [0x120, 1, 2, 10],
        [0x130, 1, 1, 10],
      ]);
    exchange.step(331);
    expect(words.get('valid')).withContext('none came for 300 ms').toEqual([0]);
  });

  it('count on from 1 after 65535, so that 0 is never a frame', () => {
    const { exchange, words } = end([whole('sent', 1)]);
    for (let count = 0; count < 65_536; count++) exchange.hear(came('', 0x120), 0);
    expect(words.get('w count')).toEqual([1]);
  });

  it('are sent as the controller has made them, in the order of their counts, each when its count is another', () => {
    const { exchange, words, sent, identifiers, bus, counters } = end([whole('taken', 2)]);
    words.set('w 1 count', [9]);
    exchange.begin();
    exchange.step(0);
    expect(sent).withContext('what was there at the start is no news').toEqual([]);
    const make = (name: string, count: number, length: number, identifier: number, ...data: number[]) => {
      words.set(`${name} length`, [length]).set(`${name} identifier`, [0, identifier]).set(`${name} count`, [count]);
      data.forEach((word, index) => words.set(`${name} data ${2 * index}`, [word]));
    };
    make('w 1', 11, 3, 0x122, 0x0102, 0x03ff);
    make('w 2', 10, 2, 0x121, 0xaabb);
    exchange.step(10);
    expect([sent, identifiers, words.get('done')]).toEqual([['aabb', '010203'], [0x121, 0x122], [11]]);
    exchange.step(20);
    expect(sent.length).toBe(2);
    bus.isFull = true;
    make('w 1', 12, 0, 0x120);
    exchange.step(30);
    expect([counters().problem, words.get('done')]).toEqual([jasmine.stringContaining('has not been sent yet'), [11]]);
    bus.isFull = false;
    exchange.step(40);
    expect([sent.at(-1), counters().problem, words.get('done')]).toEqual(['', null, [12]]);
  });

  it('that are none are not sent, and it is said why', () => {
    const { exchange, words, sent, counters } = end([whole('taken', 1)]);
    exchange.begin();
    const problemOf = (identifier: number[], length: number, count: number) => {
      words.set('w identifier', identifier).set('w length', [length]).set('w count', [count]);
      exchange.step(count);
      return counters().problem;
    };
    expect(problemOf([0, 0x131], 8, 1)).toBe('Record 1: identifier 131 is none of 120 to 12F.');
    expect(problemOf([0, 0x121], 9, 2)).toBe('Record 1 says 9 bytes of data; a frame has at most 8.');
    expect(problemOf([1, 0x121], 8, 3)).toContain('has more than 11 bits');
    expect(sent).toEqual([]);
    expect([problemOf([0, 0x121], 1, 4), sent]).toEqual([null, ['00']]);
  });

  it('are no business of the device, and its frames are not made by the converter beside', () => {
    const own = frame('own', { direction: 'taken', when: { on: 'period', periodMs: 10 } });
    const converter = end([whole('taken', 1), own]);
    converter.exchange.begin();
    for (const now of [0, 10]) converter.exchange.step(now);
    expect(converter.sent).toEqual([]);
    const device = end([whole('taken', 1), own], 'device');
    device.exchange.hear(came('0000000000000000'), 0);
    expect(device.exchange.state(0).frames.map(({ id, count }) => [id, count])).toEqual([['own', 1]]);
  });
});

describe('Signals and registers', () => {
  it('hold the same for numbers of every type that a signal can be', () => {
    const cases: [type: Point['type'], count: number, value: number | string][] = [
      ['uint16', 10, 1023],
      ['int16', 10, -512],
      ['int32', 20, -1],
      ['uint32', 32, 4_294_967_295],
      ['float32', 32, -1.5],
      ['int64', 64, '-9007199254740993'],
      ['bits', 8, 0xa5],
    ];
    for (const [type, count, value] of cases) {
      for (const order of ['little', 'big'] as const) {
        const point: Point = {
          ...blankPoint({ id: 'p', ...ids }),
          name: 'P',
          type,
          ...bits('f', order === 'little' ? 0 : 7, count, order),
        };
        const words = encode(type === 'bits' ? [1, 0, 1, 0, 0, 1, 0, 1] : value, pointLayout(point)!);
        const data = new Uint8Array(8);
        if (!words.ok) throw new Error(`${type}: ${words.problem.message}`);
        expect(putSignal(data, point, words.value.words).ok)
          .withContext(type)
          .toBeTrue();
        const back = wordsOfSignal(data, point);
        expect(back.ok && back.value)
          .withContext(`${type} ${order}`)
          .toEqual(words.value.words);
      }
    }
  });

  it('say what has no room', () => {
    const point: Point = { ...blankPoint({ id: 'p', ...ids }), name: 'P', type: 'int16', ...bits('f', 0, 8) };
    expect([-128, 127, 128].map((value) => signalHolds(point, value))).toEqual([true, true, false]);
    const past = putSignal(new Uint8Array(0), point, [1]);
    expect(past.ok || past.problem.message).toBe('P reaches bit 7 (byte 0, bit 7), and the frame has no byte.');
  });
});

describe('The bus of the demo', () => {
  it('is little used, and a value on it is as old as its period, the bus and its converter make it', () => {
    const { load, frames } = timeOfBus(demo, line.id);
    expect(load).toBeGreaterThan(0.005);
    expect(load).toBeLessThan(0.02);
    const position = demo.frames.find(({ name }) => name === 'Position')!;
    const time = frames.find(({ id }) => id === position.id)!;
    const point = demo.points.find(({ place }) => place.kind === 'signal' && place.frameId === position.id)!;
    expect(frameRefreshOf(demo, point)).toEqual({ meanMs: 50 + time.worstMs + 5, worstMs: 100 + time.worstResponseMs! + 10 });
    expect(framesOn(demo, line.id).map(({ name, points }) => [name, points.length])).toEqual([
      ['Position', 5],
      ['Alive', 1],
      ['Drive', 3],
    ]);
  });
});
