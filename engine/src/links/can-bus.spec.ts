import { bitsOnBus, busTime, type CanFrame } from '@plain-envoy/core/can';
import { VirtualTime } from '../virtual-time.spec-helper.js';
import { CanBus, type CanStation, type PassedFrame } from './index.js';

const BITRATE = 250_000;
const frame = (identifier: number, ...data: number[]): CanFrame => ({ identifierBits: 11, identifier, data: Uint8Array.from(data) });

describe('a CAN bus', () => {
  let time: VirtualTime;
  let bus: CanBus;
  let passed: PassedFrame[];
  /** Somebody who writes down what they hear. */
  const join = (bitrate = BITRATE) => {
    const heard: { identifier: number; data: number[]; atMs: number }[] = [];
    const station: CanStation = { bitrate, hear: ({ identifier, data }, atMs) => void heard.push({ identifier, data: [...data], atMs }) };
    bus.attach(station);
    return { station, heard, errors: () => bus.errors(station)! };
  };

  beforeEach(() => {
    time = new VirtualTime();
    [bus, passed] = [new CanBus(BITRATE), []];
    bus.onPassed = (one) => passed.push(one);
  });
  afterEach(() => {
    bus.close();
    time.end();
  });

  it('carries a frame to all others, in the time of its bits', async () => {
    const [a, b, c] = [join(), join(), join()];
    const from = performance.now();
    const sent = frame(0x123, 1, 2, 3);
    expect(await time.during(bus.send(a.station, sent))).toBe('sent');
    const takes = (bitsOnBus(sent) * 1000) / BITRATE;
    expect(b.heard).toEqual([{ identifier: 0x123, data: [1, 2, 3], atMs: jasmine.any(Number) as never }]);
    expect([c.heard.length, a.heard.length]).toEqual([1, 0]);
    expect(passed.map(({ end }) => end)).toEqual(['arrived']);
    expect(b.heard[0]!.atMs).toBeCloseTo(from + takes, 6);
    expect(passed[0]!.ms).toBeCloseTo(takes, 6);
    expect(bus.load).toBeGreaterThan(0);
  });

  it('lets the lowest identifier go first of those that wait, of each station and of all', async () => {
    const [a, b, listener] = [join(), join(), join()];
    const all = [
      bus.send(a.station, frame(0x300)),
      bus.send(a.station, frame(0x200)),
      bus.send(b.station, frame(0x100)),
      bus.send(b.station, frame(0x400)),
    ];
    await time.during(Promise.all(all));
    // The first had begun before the others were there.
    expect(listener.heard.map(({ identifier }) => identifier)).toEqual([0x300, 0x100, 0x200, 0x400]);
    for (const [index, { atMs }] of listener.heard.slice(1).entries()) expect(atMs).toBeGreaterThan(listener.heard[index]!.atMs);
  });

  it('is never later than was calculated, with every frame as often as it is wanted', async () => {
    const frames = [0x10, 0x20, 0x30, 0x40].map((identifier, index) => ({
      ...{ id: String(identifier), identifierBits: 11 as const, identifier, bytes: 8, periodMs: [2, 3, 5, 7][index]! },
    }));
    const worst = new Map(busTime(BITRATE, frames).frames.map(({ id, worstResponseMs }) => [Number(id), worstResponseMs!]));
    const stations = frames.map(() => join());
    const late = new Map<number, number>();
    const wantedAt = new Map<number, number>();
    bus.attach({
      bitrate: BITRATE,
      hear: ({ identifier }, atMs) => void late.set(identifier, Math.max(late.get(identifier) ?? 0, atMs - wantedAt.get(identifier)!)),
    });
    for (let ms = 0; ms < 210; ms++) {
      frames.forEach(({ identifier, periodMs }, index) => {
        if (ms % periodMs) return;
        wantedAt.set(identifier, performance.now());
        void bus.send(stations[index]!.station, frame(identifier, ...new Array<number>(8).fill(ms & 0xff)));
      });
      await time.wind();
    }
    expect(late.size).toBe(4);
    for (const [identifier, ms] of late)
      expect(ms)
        .withContext(String(identifier))
        .toBeLessThanOrEqual(worst.get(identifier)! + 1e-6);
  });

  it('sends again what nobody acknowledges, for as long as it takes, and the station is passive but not off', async () => {
    const a = join();
    const sent = bus.send(a.station, frame(0x55, 1));
    await time.wind(40);
    expect(passed.length).toBeGreaterThan(16);
    expect(passed.every(({ end }) => end === 'silent')).toBeTrue();
    expect(a.errors()).toEqual({ state: 'error passive', transmit: 128, receive: 0 });
    const b = join();
    expect(await time.during(sent)).toBe('sent');
    expect(b.heard.length).toBe(1);
    expect(a.errors().state).toBe('error active');
  });

  it('sends again what is destroyed, and who destroys too much is off until it has been idle for long enough', async () => {
    const [a, b] = [join(), join()];
    let left = 3;
    bus.spoils = () => left-- > 0;
    expect(await time.during(bus.send(a.station, frame(0x55, 1)))).toBe('sent');
    expect(passed.map(({ end }) => end)).toEqual(['damaged', 'damaged', 'damaged', 'arrived']);
    expect([a.errors().transmit, b.errors().receive]).toEqual([3 * 8 - 1, 2]);
    bus.spoils = () => true;
    expect(await time.during(bus.send(a.station, frame(0x56)))).toBe('bus off');
    expect(a.errors().state).toBe('bus off');
    expect(await time.during(bus.send(a.station, frame(0x57)))).toBe('bus off');
    bus.spoils = () => false;
    // 1408 bits at 250 kbit/s.
    await time.wind(7);
    expect(a.errors()).toEqual({ state: 'error active', transmit: 0, receive: 0 });
    expect(await time.during(bus.send(a.station, frame(0x58)))).toBe('sent');
  });

  it('ends with two that send the same identifier with other data off, and takes them for one where all is alike', async () => {
    const [a, b, c] = [join(), join(), join()];
    const blocking = bus.send(c.station, frame(0x01));
    const alike = [bus.send(a.station, frame(0x70, 9)), bus.send(b.station, frame(0x70, 9))];
    expect(await time.during(Promise.all([blocking, ...alike]))).toEqual(['sent', 'sent', 'sent']);
    expect(c.heard.map(({ data }) => data)).toEqual([[9]]);
    const again = bus.send(c.station, frame(0x01));
    const both = [bus.send(a.station, frame(0x70, 1)), bus.send(b.station, frame(0x70, 2))];
    expect(await time.during(Promise.all([again, ...both]))).toEqual(['sent', 'bus off', 'bus off']);
  });

  it('is disturbed by who is set to another bit rate, until that gives up', async () => {
    const [a, b] = [join(), join()];
    const wrong = join(500_000);
    expect(await time.during(bus.send(a.station, frame(0x55, 1)))).toBe('sent');
    expect(passed.filter(({ end }) => end === 'damaged').length).toBe(16);
    expect([wrong.errors().state, wrong.heard.length, b.heard.length]).toEqual(['error passive', 0, 1]);
    expect(await time.during(bus.send(wrong.station, frame(0x01)))).toBe('bus off');
  });

  it('gives up what a station still wanted that leaves, and everything when it is closed', async () => {
    const [a, b] = [join(), join()];
    const first = bus.send(a.station, frame(1));
    bus.detach(a.station);
    expect(await first).toBe('given up');
    expect(await bus.send(a.station, frame(1))).toBe('given up');
    expect(bus.errors(a.station)).toBeNull();
    const second = bus.send(b.station, frame(1));
    bus.close();
    expect([await second, await bus.send(b.station, frame(1))]).toEqual(['given up', 'given up']);
  });
});
