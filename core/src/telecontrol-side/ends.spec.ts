import { fernhollow } from '../demo/index.js';
import { type Freshness, type PointMemory } from '../converter/index.js';
import { type CarriedStation, stationsOn } from '../stations/index.js';
import type { Point, ProjectDocument } from '../model/index.js';
import type { Standard } from '../telecontrol-line/index.js';
import { ControlEnd, OutstationEnd } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ kind }) => kind === 'telecontrol')!;
const NOON = Date.UTC(2026, 9, 25, 0, 59, 0);

let seed = 11;
const random = () => {
  seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
  return seed / 0x1_0000_0000;
};

/** The grid link of the demo by a standard; by IEC 60870-5-104 each point has an address of its own. */
function stationBy(standard: Standard, more: readonly Point[] = []): CarriedStation {
  const document: ProjectDocument = {
    ...demo,
    lines: demo.lines.map((row) => (row.kind === 'telecontrol' ? { ...row, standard, t2Ms: 300, confirmMs: 500, answersMs: 1000 } : row)),
    points: [...demo.points, ...more].map((point, index) =>
      point.place.kind === 'event' && standard !== 'ieee1815' ? { ...point, place: { ...point.place, index: 1 + index } } : point,
    ),
  };
  return stationsOn(document, line.id)[0]!;
}

/** Where values are kept, by the ids of their points. */
class Kept implements PointMemory {
  constructor(readonly words = new Map<string, number[]>()) {}
  fresh: Freshness = 'good';
  read = ({ id, type }: Point) => this.words.get(id) ?? (type === 'uint32' || type === 'float32' ? [0, 0] : [0]);
  write = ({ id }: Point, words: number[]) => void this.words.set(id, words);
  freshness = () => this.fresh;
}

/** Both ends on a clock of ours, with a connection that takes its time, and can be cut and lose frames; at the control station lies what is given. */
function plant(standard: Standard, station = stationBy(standard), lies?: Map<string, number[]>) {
  let nowMs = NOON;
  let onWire: { to: 'out' | 'control'; atMs: number; frame: Uint8Array }[] = [];
  const wire = { isUp: false, loses: 0, addressBy: 0, clockByMs: 0 };
  const [far, near] = [new Kept(lies), new Kept()];
  const put = (to: 'out' | 'control') => (frame: Uint8Array) => {
    if (!wire.isUp || random() < wire.loses) return;
    const last = onWire.filter((one) => one.to === to).at(-1)?.atMs ?? 0;
    onWire.push({ to, atMs: Math.max(last, nowMs + 2 + Math.floor(random() * 30)), frame });
  };
  const out = new OutstationEnd({ station, memory: near, tells: true, send: put('control'), close: () => cut(), wrong: wire }, nowMs);
  const control = new ControlEnd({ station, memory: far, tells: false, send: put('out'), close: () => cut() }, nowMs);
  function cut(): void {
    if (!wire.isUp) return;
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
  const run = (ms: number) => {
    for (const end = nowMs + ms; nowMs < end; nowMs += 10) {
      out.step(nowMs);
      control.step(nowMs);
      const due = onWire.filter(({ atMs }) => atMs <= nowMs);
      onWire = onWire.filter(({ atMs }) => atMs > nowMs);
      for (const { to, frame } of due) if (wire.isUp) (to === 'out' ? out : control).hear(frame, nowMs);
    }
  };
  const id = (name: string) => station.points.find((point) => point.name === name)!.id;
  const seen = (name: string) => control.state(nowMs).points.find(({ pointId }) => pointId === id(name))!;
  return { out, control, far, near, wire, cut, connect, run, id, seen, now: () => nowMs };
}

for (const standard of ['ieee1815', 'iec60870-5-104'] as const)
  describe(`Both ends of a telecontrol link, by ${standard}`, () => {
    it('shows no value as good that came before the link was cut, until it is told again', () => {
      const { near, connect, cut, run, id, seen, wire } = plant(standard);
      connect();
      near.words.set(id('Power drawn'), [1234]);
      run(2000);
      expect(seen('Power drawn').isGood).toBeTrue();
      cut();
      run(100);
      expect([seen('Power drawn').isGood, seen('Power drawn').quality]).toEqual([false, 'the link is cut']);
      // The connection is there again, and what comes over it is another station's.
      wire.addressBy = 1;
      connect();
      run(4000);
      expect(seen('Power drawn').isGood).withContext('nobody has told it').toBeFalse();
      cut();
      wire.addressBy = 0;
      connect();
      run(2000);
      expect([seen('Power drawn').isGood, seen('Power drawn').said]).toEqual([true, 1234]);
    });

    it('give the command that is set before the first look, and none that lay there at the start', () => {
      const station = stationBy(standard);
      const idOf = (name: string) => station.points.find((point) => point.name === name)!.id;
      const { near, far, connect, run, control, now } = plant(standard, station, new Map([[idOf('Stop the turner'), [1]]]));
      far.words.set(idOf('Curtailment'), [2]);
      connect();
      run(2000);
      expect(near.words.get(idOf('Curtailment'))).toEqual([2]);
      expect(control.state(now()).commands.map(({ pointId }) => pointId)).toEqual([idOf('Curtailment')]);
    });

    it('bring values with their quality: as they are written, old, not written yet, past what can be said', () => {
      const { near, far, connect, run, id, seen } = plant(standard);
      near.fresh = 'unwritten';
      connect();
      run(1000);
      expect(seen('Power drawn').isGood).toBeFalse();
      near.fresh = 'good';
      near.words.set(id('Power drawn'), [1234]);
      near.words.set(id('Energy drawn'), [1, 2]);
      near.words.set(id('Plant alarm'), [1]);
      run(1500);
      expect([far.words.get(id('Power drawn')), far.words.get(id('Energy drawn')), far.words.get(id('Plant alarm'))]).toEqual([
        [1234],
        [1, 2],
        [1],
      ]);
      expect([seen('Power drawn').isGood, seen('Power drawn').said, seen('Plant alarm').quality]).toEqual([true, 1234, '']);
      near.fresh = 'old';
      run(1500);
      expect([seen('Power drawn').isGood, seen('Power drawn').quality]).toEqual([
        false,
        standard === 'ieee1815' ? 'communication lost' : 'not topical',
      ]);
      near.fresh = 'good';
      near.words.set(id('Energy drawn'), [0xffff, 0xffff]);
      run(1500);
      expect(seen('Energy drawn').isGood)
        .withContext('2³² − 1 is in one of them only')
        .toBe(standard === 'ieee1815');
    });

    it('carry the quality of a register, and back', () => {
      const base = demo.points.find(({ name, place }) => name === 'Plant alarm' && place.kind === 'event')!;
      const good: Point = { ...base, id: 'good', name: 'Alarm is good', place: { ...base.place, part: 'good' } as Point['place'] };
      const station = stationBy(standard);
      const alarm = station.points.find(({ name }) => name === 'Plant alarm')!;
      const own = { ...station, points: [...station.points, { ...good, place: { ...alarm.place, part: 'good' } as Point['place'] }] };
      const { near, far, connect, run, seen } = plant(standard, own);
      near.words.set('good', [1]);
      connect();
      run(1500);
      expect([seen('Plant alarm').isGood, far.words.get('good')]).toEqual([true, [1]]);
      near.words.set('good', [0]);
      run(1500);
      expect([seen('Plant alarm').isGood, far.words.get('good')]).toEqual([false, [0]]);
    });

    it('give commands when they change or by hand, tell how they ended, and give what stays again when the link is back', () => {
      const { near, far, control, out, connect, cut, run, id, now } = plant(standard);
      connect();
      run(1000);
      far.words.set(id('Curtailment'), [2]);
      run(500);
      expect(near.words.get(id('Curtailment'))).toEqual([2]);
      const ended = () => control.state(now()).commands.find(({ pointId }) => pointId === id('Curtailment'))!;
      expect([ended().end, ended().said]).toEqual(['done', 2]);
      expect(out.state(now()).commands.map(({ pointId, said, end }) => [pointId, said, end])).toContain([id('Curtailment'), 2, 'done']);
      expect(control.command(id('Stop the turner'), 1)).toBeTrue();
      run(1000);
      expect(near.words.get(id('Stop the turner'))).toEqual([1]);
      run(2000);
      expect(near.words.get(id('Stop the turner')))
        .withContext('a pulse of 2 s, or of what the station has')
        .toEqual([0]);
      cut();
      near.words.set(id('Curtailment'), [0]);
      far.words.set(id('Stop the turner'), [0]);
      connect();
      run(2000);
      expect([near.words.get(id('Curtailment')), near.words.get(id('Stop the turner'))]).toEqual([[2], [0]]);
      expect([control.command(id('Power drawn'), 1), out.command(), out.archive()]).toEqual([false, false, []]);
    });

    it('have in the archive what the process did, event by event, in ten minutes with 40 cuts and lost frames', () => {
      const { near, control, out, wire, connect, cut, run, id, now } = plant(standard);
      connect();
      run(2000);
      const did: number[] = [];
      let number = 0;
      const before = control.archive(id('Number')).length;
      wire.loses = 0.01;
      const cuts = Array.from({ length: 40 }, () => Math.floor(random() * 2900));
      for (let step = 0; step < 2900; step++) {
        if (cuts.includes(step)) cut();
        else if (random() < 0.1) connect();
        if (random() < 0.3) {
          number = (number + 1) % 1000;
          did.push(number);
          near.words.set(id('Number'), [number]);
        }
        run(200);
      }
      wire.loses = 0;
      cut();
      connect();
      run(20_000);
      expect(
        control
          .archive(id('Number'))
          .slice(before)
          .map(({ said }) => said),
      ).toEqual(did);
      const times = control.archive(null).map(({ atMs }) => atMs);
      expect(times.every((atMs) => atMs >= NOON && atMs <= now())).toBeTrue();
      expect([out.state(now()).kept, out.state(now()).thrownAway, did.length > 500]).toEqual([0, 0, true]);
    });

    it('throw the oldest events away where the memory is full, and tell that of the link', () => {
      const station = stationBy(standard);
      const told: Point = {
        ...station.points[0]!,
        ...{ id: 'thrown', name: 'Thrown away', type: 'uint16', place: { kind: 'stationState', state: 'thrown away', pinned: false } },
      };
      const small = { ...station, points: [...station.points, told], outstation: { ...station.outstation!, memory: 10 } };
      const { near, out, control, connect, cut, run, id, now } = plant(standard, small);
      connect();
      run(2000);
      const before = control.archive(id('Number')).length;
      cut();
      for (let number = 1; number <= 25; number++) {
        near.words.set(id('Number'), [number]);
        run(50);
      }
      expect([out.state(now()).thrownAway, out.state(now()).isFull, near.words.get('thrown')]).toEqual([15, true, [15]]);
      connect();
      run(5000);
      expect(
        control
          .archive(id('Number'))
          .slice(before)
          .map(({ said }) => said),
      ).toEqual(Array.from({ length: 10 }, (_, at) => 16 + at));
      expect([near.words.get(id('Link is up')), near.words.get(id('Events kept'))]).toEqual([[1], [0]]);
    });

    it('tell nothing where an end has another address, and are off by as much as a clock that went wrong', () => {
      const { near, control, out, wire, connect, run, id, seen, now } = plant(standard);
      wire.addressBy = 1;
      connect();
      near.words.set(id('Number'), [5]);
      run(4000);
      expect(control.state(now()).strange + out.state(now()).strange).toBeGreaterThan(0);
      expect(seen('Number').isGood).toBeFalse();
      const other = plant(standard);
      other.connect();
      other.run(2000);
      other.wire.clockByMs = 3_600_000;
      other.near.words.set(other.id('Number'), [5]);
      other.run(2000);
      expect(Math.abs(other.control.state(other.now()).lagMs! + 3_600_000)).toBeLessThan(10_000);
      expect(Math.abs(other.out.state(other.now()).clockAheadMs - 3_600_000)).toBeLessThan(1000);
    });
  });

describe('Time on a telecontrol link', () => {
  it('neither loses nor doubles an event when summer time ends', () => {
    for (const standard of ['ieee1815', 'iec60870-5-104'] as const) {
      const { near, control, connect, run, id } = plant(standard);
      connect();
      run(2000);
      const first = control.archive(id('Number')).length;
      // From 00:59 UTC over 01:00 UTC, when clocks in the middle of Europe go from 3 back to 2 that day.
      for (let minute = 1; minute <= 4; minute++) {
        near.words.set(id('Number'), [minute]);
        run(30_000);
      }
      const events = control.archive(id('Number')).slice(first);
      expect(events.map(({ said }) => said)).toEqual([1, 2, 3, 4]);
      expect(events.every(({ atMs }, at) => at === 0 || Math.abs(atMs - events[at - 1]!.atMs - 30_000) < 100)).toBeTrue();
    }
  });
});
