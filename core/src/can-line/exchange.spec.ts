import type { CanFrame } from '../can/index.js';
import { type CarriedFrame, framesOn } from '../converter/index.js';
import { fernhollow } from '../demo/index.js';
import { blankPoint, type Point, pointLayout, pointWidth } from '../model/index.js';
import { toHex } from '../frame/index.js';
import { encode } from '../value/index.js';
import { CanExchange, frameRefreshOf, putSignal, signalHolds, timeOfBus, wordsOfSignal } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'can')!;
const ids = { projectId: demo.project.id, deviceId: demo.frames[0]!.deviceId };

function frame(id: string, fields: Partial<CarriedFrame>, points: (Partial<Point> & Pick<Point, 'name'>)[] = []): CarriedFrame {
  return {
    ...{ ...ids, id, name: id, direction: 'sent', identifierBits: 11, identifier: 0x123, bytes: 8, fill: '', deviceName: 'Node' },
    ...{ when: { on: 'period', periodMs: 100 }, lostAfterMs: 300 },
    ...fields,
    points: points.map((point, index): Point => ({ ...blankPoint({ id: `${id} ${index}`, ...ids }), ...point })),
  };
}
const bits = (frameId: string, firstBit: number, count: number, order: 'little' | 'big' = 'little') =>
  ({ place: { kind: 'signal', frameId, firstBit, bits: count, order, pinned: false } }) as const;
const state = (frameId: string, name: 'valid' | 'count' | 'lost') =>
  ({ place: { kind: 'frameState', frameId, state: name, pinned: false } }) as const;

/** An end whose values are kept by name. */
function end(frames: readonly CarriedFrame[], as: 'converter' | 'device' = 'converter') {
  const words = new Map<string, number[]>();
  const sent: string[] = [];
  const bus = { isFull: false };
  const exchange = new CanExchange({
    ...{ frames, as },
    memory: {
      read: (point) => words.get(point.name) ?? Array.from({ length: pointWidth(point) }, () => 0),
      write: (point, value) => void words.set(point.name, value),
    },
    send: ({ data }) => !bus.isFull && sent.push(toHex(data).replaceAll(' ', '').toLowerCase()) > 0,
  });
  return { exchange, words, sent, bus, counters: (nowMs = 0) => exchange.state(nowMs).frames[0]! };
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
