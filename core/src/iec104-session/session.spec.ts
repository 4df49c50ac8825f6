import { fromHex } from '../frame/index.js';
import { type Asdu, buildAsdu, buildFrame104, type Held, readAsdu, readFrame104, Stream104 } from '../iec104/index.js';
import { iec104Vectors } from '../testing/index.js';
import { timesProblems, usualTimes } from '../telecontrol/index.js';
import { type Command104, ControlStation104, Outstation104, type Point104 } from './index.js';

const STATION = 12;
/** The time of the day at 0 of the clock that the ends are given. */
const DAY_MS = Date.UTC(2026, 10, 29, 0, 59, 0);

function bytesOf(hex: string): Uint8Array {
  const read = fromHex(hex);
  return read.ok ? read.value : new Uint8Array();
}

let seed = 5;
const random = () => {
  seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
  return seed / 0x1_0000_0000;
};

interface Options {
  points?: Point104[];
  commands?: Command104[];
  memory?: number;
  clockEveryMs?: number | null;
  setsClock?: boolean;
  execute?: (command: Command104, held: Held) => boolean;
}
const point = (address: number, type = 13, fields: Partial<Point104> = {}): Point104 => ({
  ...{ address, type, threshold: 0, periodMs: null, withTime: true },
  ...fields,
});

/** Both ends on one clock, and a connection between them that takes its time, keeps the order, and can be cut. */
function plant({
  points = [point(1)],
  commands = [],
  memory = 10_000,
  clockEveryMs = null,
  setsClock = true,
  execute = () => true,
}: Options = {}) {
  let nowMs = 0;
  let onWire: { to: 'out' | 'control'; atMs: number; bytes: Uint8Array }[] = [];
  const closed: string[] = [];
  const wire = { isUp: false, spoil: (bytes: Uint8Array) => bytes };
  const put = (to: 'out' | 'control') => (bytes: Uint8Array) => {
    const last = onWire.filter((one) => one.to === to).at(-1)?.atMs ?? 0;
    if (wire.isUp) onWire.push({ to, atMs: Math.max(last, nowMs + 5 + Math.floor(random() * 60)), bytes: wire.spoil(bytes) });
  };
  const close = (who: string) => (why: string) => {
    closed.push(`${who}: ${why}`);
    cut();
  };
  const out = new Outstation104({
    ...{ station: STATION, points, commands, times: usualTimes, memory, selectedMs: 10_000 },
    ...{ send: put('control'), close: close('outstation'), execute },
  });
  const control = new ControlStation104({
    ...{ station: STATION, times: usualTimes, clockEveryMs, setsClock, answersMs: 5000, timeAt: (ms) => DAY_MS + ms },
    ...{ send: put('out'), close: close('control station') },
  });
  function cut(): void {
    wire.isUp = false;
    onWire = [];
    out.disconnected();
    control.disconnected();
  }
  const connect = () => {
    if (wire.isUp) return;
    wire.isUp = true;
    out.connected(nowMs);
    control.connected(nowMs);
  };
  const run = (ms: number, each: () => void = () => undefined) => {
    for (const end = nowMs + ms; nowMs < end; nowMs += 10) {
      each();
      out.step(nowMs);
      control.step(nowMs);
      const due = onWire.filter(({ atMs }) => atMs <= nowMs);
      onWire = onWire.filter(({ atMs }) => atMs > nowMs);
      for (const { to, bytes } of due) if (wire.isUp) (to === 'out' ? out : control).hear(bytes, nowMs);
    }
  };
  return { out, control, wire, closed, connect, cut, run, now: () => nowMs };
}

describe('Both ends of IEC 60870-5-104', () => {
  it('begin with the clock, all values and all counters', () => {
    const points = [point(1, 1), point(2, 11), point(3, 13), point(4, 15), point(5, 3)];
    const { out, control, connect, run, now, closed } = plant({ points });
    out.set(1, { value: 1 }, 0);
    out.set(2, { value: -5, notTopical: true }, 0);
    out.set(3, { value: 2.5 }, 0);
    out.set(4, { value: 77, sequence: 1 }, 0);
    expect(out.state(0).clockAgeMs).toBeNull();
    connect();
    run(1000);
    const seen = [...control.seen].map(([address, { held, cause }]) => [address, held['value'], held['invalid'] ?? false, cause]);
    expect(seen).toEqual([
      [1, 1, false, 20],
      [2, -5, false, 20],
      [3, 2.5, false, 20],
      [5, 0, true, 20],
      [4, 77, false, 37],
    ]);
    expect(control.seen.get(2)!.held['notTopical']).toBeTrue();
    expect(Math.abs(out.timeAt(now()) - (DAY_MS + now()))).toBeLessThan(100);
    expect([out.state(now()).clockAgeMs! < 1000, control.state.interrogations, closed]).toEqual([true, 1, []]);
  });

  it('bring what happens with its time and quality, measured values when they leave their band or at their period', () => {
    const points = [point(1, 13, { threshold: 0.5 }), point(2, 11, { periodMs: 2000 })];
    const { out, control, connect, run, now } = plant({ points });
    out.set(1, { value: 10 }, 0);
    out.set(2, { value: 4 }, 0);
    connect();
    run(1000);
    for (const value of [10.2, 10.4, 10.6, 10.9, 11.1]) {
      out.set(1, { value }, now());
      run(100);
    }
    out.set(1, { value: 11.1, invalid: true }, now());
    run(500);
    const kept = control.archive.of('1').map(({ value }) => [Number(Number(value['value']).toPrecision(4)), value['invalid'] ?? false]);
    expect(kept).toEqual([
      [10.6, false],
      [11.1, false],
      [11.1, true],
    ]);
    run(5000);
    expect(control.seen.get(2)).toEqual(jasmine.objectContaining({ cause: 1, atMs: null }));
  });

  it('carry commands out that were selected, and refuse those that were not, late ones and what is no point', () => {
    const did: [number, unknown][] = [];
    const commands: Command104[] = [
      { address: 100, type: 45, selectFirst: true },
      { address: 101, type: 50, selectFirst: false },
    ];
    const execute = ({ address }: Command104, held: Held) => {
      did.push([address, held['value']]);
      return held['value'] !== 99;
    };
    const { control, connect, run, cut } = plant({ commands, execute });
    const ends: string[] = [];
    const command = (address: number, type: number, value: number, selectFirst: boolean) => {
      control.command(address, type, { value, qualifier: 0 }, selectFirst, (end) => ends.push(end));
      run(1000);
    };
    command(100, 45, 1, true);
    expect(ends).withContext('not connected').toEqual(['refused']);
    connect();
    run(1000);
    command(100, 45, 1, true);
    command(100, 45, 1, false);
    command(101, 50, 12.5, false);
    command(101, 50, 99, false);
    command(102, 45, 1, false);
    command(101, 45, 1, false);
    expect(ends.slice(1)).toEqual(['done', 'refused', 'done', 'refused', 'refused', 'refused']);
    expect(did).toEqual([
      [100, 1],
      [101, 12.5],
      [101, 99],
    ]);
    control.command(101, 50, { value: 1 }, false, (end) => ends.push(end));
    cut();
    expect(ends.at(-1)).toBe('no answer');
  });

  it('keep what happens while the link is down, send it in order when it is back, and throw the oldest away where there is no room', () => {
    const { out, control, connect, cut, run, now } = plant({ memory: 50 });
    out.set(1, { value: 0 }, 0);
    connect();
    run(1000);
    cut();
    for (let value = 1; value <= 80; value++) {
      out.set(1, { value }, now());
      run(50);
    }
    expect(out.state(now())).toEqual(jasmine.objectContaining({ kept: 50, thrownAway: 30, isFull: true, isConnected: false }));
    connect();
    run(3000);
    expect(control.archive.of('1').map(({ value }) => value['value'])).toEqual(Array.from({ length: 50 }, (_, index) => index + 31));
    expect(control.seen.get(1)!.held['value']).toBe(80);
    expect(out.state(now()).kept).toBe(0);
  });

  it('lose no event and have none twice in ten minutes with the link cut 40 times, each with its time, over the change of an hour', () => {
    const points = Array.from({ length: 20 }, (_, index) => point(index + 1, index % 2 === 0 ? 13 : 1));
    const { out, control, connect, cut, run, now, closed } = plant({ points, clockEveryMs: 60_000 });
    const did = new Map<number, { value: number; atMs: number }[]>(points.map(({ address }) => [address, []]));
    for (const { address } of points) out.set(address, { value: 0 }, 0);
    connect();
    run(2000);
    const cuts = Array.from({ length: 40 }, () => 5000 + Math.floor(random() * 575_000)).sort((a, b) => a - b);
    let backMs = Infinity;
    let wasCut = 0;
    run(600_000, () => {
      if (now() < 595_000)
        for (const { address, type } of points) {
          if (random() > 0.02) continue;
          const own = did.get(address)!;
          const value = type === 1 ? 1 - (own.at(-1)?.value ?? 0) : (own.at(-1)?.value ?? 0) + 1;
          own.push({ value, atMs: DAY_MS + now() });
          out.set(address, { value }, now());
        }
      if (cuts[wasCut] !== undefined && now() >= cuts[wasCut]!) {
        wasCut += 1;
        cut();
        backMs = now() + Math.floor(random() * 3000);
      }
      if (now() >= backMs) {
        backMs = Infinity;
        connect();
      }
    });
    expect(wasCut).toBe(40);
    connect();
    run(5000);
    let events = 0;
    for (const [address, own] of did) {
      const kept = control.archive.of(String(address));
      expect(kept.map(({ value }) => value['value'])).toEqual(own.map(({ value }) => value));
      for (const [index, { atMs }] of kept.entries())
        if (Math.abs(atMs - own[index]!.atMs) > 200) fail(`${address}: ${atMs - own[index]!.atMs} ms off`);
      events += kept.length;
    }
    expect(events).toBeGreaterThan(20_000);
    expect(control.state.repeated).withContext('sent again').toBeGreaterThan(0);
    expect([closed, out.state(now()).thrownAway]).toEqual([[], 0]);
  });

  it('change no point by what is damaged, and no other than what a sound frame names, whatever comes', () => {
    const vectors = iec104Vectors.filter(({ type }) => type < 46).map(({ hex }) => bytesOf(hex));
    let [sound, closes] = [0, 0];
    let ends = plant();
    let expected = 0;
    let stream = new Stream104();
    const fresh = () => {
      ends = plant({ points: [point(1), point(2)] });
      ends.out.set(1, { value: 1 }, 0);
      ends.connect();
      ends.run(300);
      expected = ends.control.state.interrogations;
      stream = new Stream104();
    };
    fresh();
    for (let turn = 0; turn < 10_000; turn++) {
      if (ends.closed.length > 0) {
        closes += 1;
        fresh();
      }
      const { control, out, now } = ends;
      const frame = buildFrame104({
        kind: 'numbered',
        sent: Math.floor(random() * 12),
        received: 3,
        asdu: vectors[turn % vectors.length]!,
      });
      for (let change = Math.floor(random() * 4); change > 0; change--)
        frame[Math.floor(random() * frame.length)] = Math.floor(random() * 256);
      const cut = random() < 0.1 ? frame.subarray(0, Math.floor(random() * frame.length)) : frame;
      const before = new Map(control.seen);
      control.hear(cut, now());
      const changed = [...control.seen].filter(([address, one]) => before.get(address) !== one).map(([address]) => address);
      const named = stream.push(cut).frames.flatMap((whole) => {
        const read = readFrame104(whole);
        const asdu = read.ok && read.value.kind === 'numbered' ? readAsdu(read.value.asdu) : null;
        return asdu && asdu.problems.length === 0 ? asdu.asdu.objects.map(({ address }) => address) : [];
      });
      expect(changed.filter((address) => !named.includes(address))).toEqual([]);
      if (changed.length > 0) sound += 1;
      out.hear(cut, now());
    }
    expect(expected).toBe(1);
    expect(sound).withContext('frames that were sound').toBeGreaterThan(100);
    expect(closes).withContext('connections that were closed').toBeGreaterThan(300);
  });
});

describe('A connection of IEC 60870-5-104', () => {
  it('lives on where a sequence is refused that has more objects than fit one by one', () => {
    const { out, connect, run, now, closed } = plant();
    connect();
    run(500);
    const objects = Array.from({ length: 69 }, (_, index) => ({ address: 1 + index, held: { value: 0 } }));
    const built = buildAsdu({
      ...{ type: 9, isSequence: true, cause: 3, isNegative: false, isTest: false, originator: 0, station: STATION, objects },
    });
    expect(built.ok).toBeTrue();
    // The control station has sent three: clock, interrogation and counters.
    const asdu = built.ok ? built.value : new Uint8Array();
    expect(() => out.hear(buildFrame104({ kind: 'numbered', sent: 3, received: 0, asdu }), now())).not.toThrow();
    expect(closed).toEqual([]);
  });

  it('asks whether the other side is there after t3, and closes where no answer comes within t1', () => {
    const { closed, connect, run, wire } = plant();
    connect();
    run(60_000);
    expect(closed).toEqual([]);
    wire.spoil = () => new Uint8Array();
    run(40_000);
    expect(closed).toEqual([jasmine.stringMatching(/did not answer within 15000 ms|No receipt/)]);
  });

  it('closes where frames are missing, a receipt claims what was not sent, or what comes is no frame', () => {
    const why = (hex: string) => {
      const { out, connect, run, now, closed } = plant();
      connect();
      run(500);
      out.hear(bytesOf(hex), now());
      return closed[0];
    };
    expect(why('68 0E 14 00 00 00 64 01 06 00 0C 00 00 00 00 14')).toMatch(
      /^outstation: (Frame \d+ is missing; 10 came|A receipt up to 0)/,
    );
    expect(why('68 04 01 00 C8 00')).toMatch(/^outstation: A receipt up to 100 came, and \d+ were sent\.$/);
    expect(why('69')).toBe('outstation: An octet 69 stands where a frame begins with 68.');
    expect(why('68 04 0B 00 00 00')).toBe('outstation: The other side sent “start confirmed”, which is not its part.');
  });

  it('never has more on its way than k, and gives receipts at latest after w', () => {
    const { out, control, connect, run, wire } = plant();
    out.set(1, { value: 0 }, 0);
    connect();
    run(1000);
    let [onWay, most, since, longest] = [0, 0, 0, 0];
    wire.spoil = (bytes) => {
      const read = readFrame104(bytes);
      if (read.ok && read.value.kind === 'numbered') {
        onWay += 1;
        most = Math.max(most, onWay);
        since += 1;
      }
      if (read.ok && read.value.kind === 'receipt') {
        longest = Math.max(longest, since);
        onWay = 0;
        since = 0;
      }
      return bytes;
    };
    let value = 0;
    run(3000, () => {
      for (let count = 0; count < 20; count++) out.set(1, { value: ++value }, 0);
    });
    expect(most).toBeLessThanOrEqual(usualTimes.k + usualTimes.w);
    expect(longest).toBeGreaterThanOrEqual(usualTimes.w);
    run(3000);
    expect(control.archive.of('1').length).toBe(value);
  });

  it('refuses what is for another station, of another cause, or no command, and says why', () => {
    const { out, connect, run, now, wire } = plant();
    const answers: Asdu[] = [];
    wire.spoil = (bytes) => {
      const read = readFrame104(bytes);
      const asdu = read.ok && read.value.kind === 'numbered' ? readAsdu(read.value.asdu)?.asdu : null;
      if (asdu) answers.push(asdu);
      return bytes;
    };
    connect();
    // Until all that was sent has its receipt.
    run(12_000);
    const [fromControl, fromOut] = [3, answers.length - 3];
    const asked = (number: number, fields: Partial<Asdu>) => {
      const built = buildAsdu({
        ...{ type: 100, isSequence: false, cause: 6, isNegative: false, isTest: false, originator: 9, station: STATION },
        ...{ objects: [{ address: 0, held: { value: 20 } }] },
        ...fields,
      });
      if (!built.ok) throw new Error(built.problem.message);
      answers.length = 0;
      out.hear(buildFrame104({ kind: 'numbered', sent: fromControl + number, received: fromOut, asdu: built.value }), now());
      return answers.map(({ type, cause, isNegative }) => [type, cause, isNegative])[0];
    };
    const value = [{ address: 7, held: { value: 1, qualifier: 0 } }];
    expect(asked(0, { station: 13 })).toEqual([100, 46, true]);
    expect(asked(1, { cause: 3 })).toEqual([100, 45, true]);
    expect(asked(2, { type: 13, objects: value })).toEqual([13, 44, true]);
    expect(asked(3, { type: 45, objects: value })).toEqual([45, 47, true]);
    expect(asked(4, { objects: [{ address: 0, held: { value: 25 } }] })).toEqual([100, 7, true]);
  });

  it('has times that fit each other', () => {
    expect(timesProblems(usualTimes)).toEqual([]);
    const wrong = timesProblems({ t1Ms: 10_000, t2Ms: 12_000, t3Ms: 8000, k: 8, w: 8 });
    expect(wrong.map((text) => text.slice(0, 2))).toEqual(['t2', 't3', 'w ']);
  });
});
