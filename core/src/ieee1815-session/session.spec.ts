import { buildFragment, buildLink, type Fragment, type Held, LinkStream, Assembly, readFragment, segments } from '../ieee1815/index.js';
import { type Command1815, type ControlRules1815, ControlStation1815, Outstation1815, type Point1815 } from './index.js';

const [MASTER, STATION] = [1, 12];
/** The time of the day at 0 of the clock that the ends are given. */
const DAY_MS = Date.UTC(2026, 10, 29, 0, 59, 0);

let seed = 9;
const random = () => {
  seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
  return seed / 0x1_0000_0000;
};
const binary = (index: number, eventClass: Point1815['eventClass'] = 1): Point1815 => ({
  kind: 'binary',
  index,
  eventClass,
  threshold: 0,
  withTime: true,
});
const analog = (index: number, threshold = 0): Point1815 => ({ kind: 'analog', index, eventClass: 2, threshold, withTime: true });
const on = (value: number, fields: Held = {}): Held => ({ online: true, value, ...fields });

interface Options extends Partial<Pick<ControlRules1815, 'takesUnsolicited' | 'eventsEveryMs' | 'clockEveryMs' | 'setsClock'>> {
  points?: Point1815[];
  commands?: Command1815[];
  memory?: number;
  execute?: (command: Command1815, held: Held) => boolean;
}

/** Both ends on one clock, and a connection between them that takes its time, keeps the order, and can be cut. */
function plant({ points = [binary(0)], commands = [], memory = 10_000, execute = () => true, ...control }: Options = {}) {
  let nowMs = 0;
  let onWire: { to: 'out' | 'master'; atMs: number; bytes: Uint8Array }[] = [];
  const wire: { isUp: boolean; spoil(bytes: Uint8Array, to: string): Uint8Array[] } = { isUp: false, spoil: (bytes) => [bytes] };
  const put = (to: 'out' | 'master') => (bytes: Uint8Array) => {
    if (!wire.isUp) return;
    for (const one of wire.spoil(bytes, to)) {
      const last = onWire.filter((row) => row.to === to).at(-1)?.atMs ?? 0;
      onWire.push({ to, atMs: Math.max(last, nowMs + 5 + Math.floor(random() * 60)), bytes: one });
    }
  };
  const out = new Outstation1815({
    ...{ own: STATION, other: MASTER, points, commands, memory, confirmMs: 2000, selectedMs: 5000 },
    ...{ send: put('master'), execute },
  });
  const master = new ControlStation1815({
    ...{
      own: MASTER,
      other: STATION,
      answersMs: 3000,
      eventsEveryMs: null,
      allEveryMs: 600_000,
      clockEveryMs: null,
      setsClock: true,
      takesUnsolicited: true,
    },
    ...{ timeAt: (ms: number) => DAY_MS + ms, send: put('out') },
    ...control,
  });
  const cut = () => {
    wire.isUp = false;
    onWire = [];
    out.disconnected();
    master.disconnected();
  };
  const connect = () => {
    if (wire.isUp) return;
    wire.isUp = true;
    out.connected(nowMs);
    master.connected(nowMs);
  };
  const run = (ms: number, each: () => void = () => undefined) => {
    for (const end = nowMs + ms; nowMs < end; nowMs += 10) {
      each();
      out.step(nowMs);
      master.step(nowMs);
      const due = onWire.filter(({ atMs }) => atMs <= nowMs);
      onWire = onWire.filter(({ atMs }) => atMs > nowMs);
      for (const { to, bytes } of due) if (wire.isUp) (to === 'out' ? out : master).hear(bytes, nowMs);
    }
  };
  return { out, master, wire, connect, cut, run, now: () => nowMs };
}

describe('Both ends of IEEE 1815', () => {
  it('begin with the clock and all values, many in several fragments', () => {
    const points = [...Array.from({ length: 500 }, (_, index) => binary(index)), analog(3), { ...analog(4), kind: 'counter' as const }];
    const { out, master, connect, run, now } = plant({ points });
    for (let index = 0; index < 500; index += 2) out.set('binary', index, on(1), 0);
    out.set('analog', 3, on(2.5, { overRange: true }), 0);
    out.set('counter', 4, on(77), 0);
    expect(out.state(0).clockAgeMs).toBeNull();
    connect();
    run(3000);
    expect(master.seen.size).toBe(502);
    expect([master.seen.get('binary 498')!.held['value'], master.seen.get('binary 499')!.held['online']]).toEqual([1, false]);
    expect(master.seen.get('analog 3')!.held).toEqual(jasmine.objectContaining({ value: 2.5, overRange: true, online: true }));
    expect(master.seen.get('counter 4')!.held['value']).toBe(77);
    // What the network takes does not count: the outstation recorded when it heard of it, up to 65 ms later than that was sent.
    expect(Math.abs(out.timeAt(now()) - (DAY_MS + now()))).toBeLessThan(100);
  });

  it('bring events unasked, with time and flags, and measured values when they leave their band', () => {
    const { out, master, connect, run, now } = plant({ points: [analog(1, 0.5), binary(0)] });
    out.set('analog', 1, on(10), 0);
    out.set('binary', 0, on(0), 0);
    connect();
    run(2000);
    for (const value of [10.25, 10.5, 10.75, 11]) {
      out.set('analog', 1, on(value), now());
      run(100);
    }
    out.set('binary', 0, on(1, { localForced: true }), now());
    run(500);
    expect(master.archive.of('analog 1').map(({ value }) => value['value'])).toEqual([10.5, 11]);
    expect(master.archive.of('binary 0').map(({ value }) => [value['value'], value['localForced']])).toEqual([[1, true]]);
    expect(out.state(now()).kept).toBe(0);
  });

  it('bring them when they are asked for, where none may be sent unasked', () => {
    const { out, master, connect, run, now } = plant({ takesUnsolicited: false, eventsEveryMs: 1000 });
    out.set('binary', 0, on(0), 0);
    connect();
    run(2000);
    for (let count = 1; count <= 250; count++) {
      out.set('binary', 0, on(count % 2), now());
      run(10);
    }
    run(3000);
    expect(master.archive.of('binary 0').length).toBe(250);
    expect(out.state(now()).kept).toBe(0);
  });

  it('carry commands out that were selected, and refuse those that were not, and what there is none of', () => {
    const did: [string, unknown][] = [];
    const commands: Command1815[] = [
      { kind: 'output', index: 0, selectFirst: true },
      { kind: 'set point', index: 1, selectFirst: false },
    ];
    const execute = ({ kind }: Command1815, held: Held) => {
      did.push([kind, held['value'] ?? held['operation']]);
      return held['value'] !== 99;
    };
    const { master, connect, run, cut } = plant({ commands, execute });
    const ends: string[] = [];
    const latch = { group: 12 as const, variation: 1, index: 0, held: { operation: 3, count: 1, onMs: 0, offMs: 0 } };
    const point = (value: number) => ({ group: 41 as const, variation: 3, index: 1, held: { value } });
    const command = (header: Parameters<typeof master.command>[0], selectFirst: boolean) => {
      master.command(header, selectFirst, (end) => ends.push(end));
      run(1000);
    };
    command(latch, true);
    expect(ends).withContext('not connected').toEqual(['refused']);
    connect();
    run(2000);
    command(latch, true);
    command(latch, false);
    command(point(12.5), false);
    command(point(99), true);
    command({ ...latch, index: 7 }, true);
    expect(ends.slice(1)).toEqual(['done', 'refused', 'done', 'refused', 'refused']);
    expect(did).toEqual([
      ['output', 3],
      ['set point', 12.5],
      ['set point', 99],
    ]);
    master.command(point(1), false, (end) => ends.push(end));
    cut();
    expect(ends.at(-1)).toBe('no answer');
  });

  it('keep what happens while the link is down, and say that events were lost where there was no room', () => {
    const { out, master, connect, cut, run, now } = plant({ memory: 50, points: [analog(1)] });
    out.set('analog', 1, on(0), 0);
    connect();
    run(2000);
    cut();
    for (let value = 1; value <= 80; value++) {
      out.set('analog', 1, on(value), now());
      run(50);
    }
    expect(out.state(now())).toEqual(jasmine.objectContaining({ kept: 50, thrownAway: 30, isFull: true, isConnected: false }));
    connect();
    run(5000);
    expect(master.archive.of('analog 1').map(({ value }) => value['value'])).toEqual(Array.from({ length: 50 }, (_, index) => index + 31));
    expect([master.seen.get('analog 1')!.held['value'], out.state(now()).kept, master.state.lostAtOutstation]).toEqual([80, 0, 1]);
  });

  it('lose no event and have none twice in ten minutes with the link cut 40 times and confirmations lost, over the change of an hour', () => {
    const points = Array.from({ length: 20 }, (_, index) => (index % 2 === 0 ? analog(index) : binary(index, 3)));
    const { out, master, connect, cut, run, now, wire } = plant({ points, clockEveryMs: 60_000 });
    const did = new Map<Point1815, { value: number; atMs: number }[]>(points.map((point) => [point, []]));
    for (const { kind, index } of points) out.set(kind, index, on(0), 0);
    connect();
    run(3000);
    // What happens before the clock was set has no time; a question for it that is lost is asked again only after a while.
    expect(out.state(now()).clockAgeMs).not.toBeNull();
    wire.spoil = (bytes, to) => (to === 'out' && bytes.length < 20 && random() < 0.02 ? [] : [bytes]);
    const cuts = Array.from({ length: 40 }, () => 5000 + Math.floor(random() * 575_000)).sort((a, b) => a - b);
    let backMs = Infinity;
    let wasCut = 0;
    run(600_000, () => {
      if (now() < 590_000)
        for (const point of points) {
          if (random() > 0.01) continue;
          const own = did.get(point)!;
          const last = own.at(-1)?.value ?? 0;
          const value = point.kind === 'binary' ? 1 - last : last + 1;
          own.push({ value, atMs: DAY_MS + now() });
          out.set(point.kind, point.index, on(value), now());
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
    run(15_000);
    let events = 0;
    for (const [{ kind, index }, own] of did) {
      const kept = master.archive.of(`${kind} ${index}`);
      expect(kept.map(({ value }) => value['value'])).toEqual(own.map(({ value }) => value));
      const off = Math.max(...kept.map(({ atMs }, at) => Math.abs(atMs - own[at]!.atMs)));
      expect(off).withContext(`${kind} ${index}: ms off`).toBeLessThan(200);
      events += kept.length;
    }
    expect(events).toBeGreaterThan(10_000);
    expect(master.state.repeated).withContext('sent again').toBeGreaterThan(0);
    expect([out.state(now()).thrownAway, out.state(now()).kept]).toEqual([0, 0]);
  });

  it('change no point by what is damaged, and no other than what a sound fragment names, whatever comes', () => {
    const { out, master, connect, run, now } = plant({ points: [binary(0), analog(1)] });
    out.set('binary', 0, on(1), 0);
    connect();
    run(2000);
    const event = (index: number): Fragment => ({
      ...{ isFirst: true, isFinal: true, wantsConfirm: true, isUnsolicited: true, sequence: 3, functionCode: 130, indications: 0 },
      headers: [{ group: 2, variation: 2, qualifier: 0x28, objects: [{ index, held: on(1, { time: DAY_MS }) }] }],
    });
    const [stream, assembly] = [new LinkStream(), new Assembly()];
    let sound = 0;
    for (let turn = 0; turn < 10_000; turn++) {
      const built = buildFragment(event(5 + (turn % 3)));
      if (!built.ok) throw new Error(built.problem.message);
      const fragment = built.value;
      // Some are damaged before the checks are made, so that they pass, and some on their way.
      if (turn % 2 === 0) fragment[Math.floor(random() * fragment.length)] = Math.floor(random() * 256);
      const [data] = segments(fragment, turn % 64);
      const head = { fromMaster: false, isPrimary: true, countBit: false, countValid: false, functionCode: 4 };
      const frame = buildLink({ ...head, destination: MASTER, source: STATION, data: data! });
      if (turn % 4 === 1) frame[Math.floor(random() * frame.length)] = Math.floor(random() * 256);
      const before = new Map(master.seen);
      master.hear(frame, now());
      out.hear(frame, now());
      const changed = [...master.seen].filter(([name, one]) => before.get(name) !== one).map(([name]) => name);
      const named = stream.push(frame).flatMap(({ frame: link }) => {
        const whole = link && assembly.push(link.data);
        const read = whole ? readFragment(whole) : null;
        return read && read.problem === null ? read.fragment.headers.flatMap(({ objects }) => objects.map(({ index }) => index)) : [];
      });
      expect(changed.filter((name) => !named.includes(Number(name.split(' ')[1])))).toEqual([]);
      if (changed.length > 0) sound += 1;
    }
    expect(sound).toBeGreaterThan(3000);
    expect(master.state.damaged).toBeGreaterThan(200);
  });

  it('leave alone what is for another station', () => {
    const { out, connect, run, now, master } = plant();
    connect();
    run(2000);
    const before = out.state(now());
    const built = buildFragment({
      ...{ isFirst: true, isFinal: true, wantsConfirm: false, isUnsolicited: false, sequence: 0, functionCode: 2, indications: null },
      headers: [{ group: 50, variation: 1, qualifier: 0x07, objects: [{ index: null, held: { time: 0 } }] }],
    });
    if (!built.ok) throw new Error(built.problem.message);
    const [data] = segments(built.value, 0);
    const head = { fromMaster: true, isPrimary: true, countBit: false, countValid: false, functionCode: 4, data: data! };
    out.hear(buildLink({ ...head, destination: STATION + 1, source: MASTER }), now());
    expect(out.state(now())).toEqual({ ...before, strange: 1 });
    out.hear(buildLink({ ...head, destination: STATION, source: MASTER }), now());
    expect(out.timeAt(now())).toBe(0);
    expect(master.state.isConnected).toBeTrue();
  });
});
