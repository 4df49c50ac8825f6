import {
  buildFragment,
  type Fragment,
  type Held,
  kindOfGroup,
  type ObjectHeader,
  type PointKind1815,
  pointKinds,
  readFragment,
} from '../ieee1815/index.js';
import { EventMemory, isNews, type KeptEvent, type OutstationState } from '../telecontrol/index.js';
import { Channel1815 } from './channel.js';
import { became, COUNTED, does, fragmentOf, indexed, indicates, RESTART_BIT } from './words.js';

/** A point of an outstation. */
export interface Point1815 {
  kind: PointKind1815;
  index: number;
  /** The class of its events; 0: none, it is only told when all is asked for. */
  eventClass: 0 | 1 | 2 | 3;
  /** By how much a measured value has to have changed to be an event. */
  threshold: number;
  /** Its events have the time at which they happened, as far as there is a form for it: counters have none. */
  withTime: boolean;
}

/** A command that is taken: an output that is latched or pulsed, or a set point. */
export interface Command1815 {
  kind: 'output' | 'set point';
  index: number;
  /** It is refused where it was not selected. */
  selectFirst: boolean;
}

export interface OutstationRules1815 {
  own: number;
  other: number;
  points: readonly Point1815[];
  commands: readonly Command1815[];
  memory: number;
  /** How long a confirmation is waited for before something is sent again, ms. */
  confirmMs: number;
  selectedMs: number;
  /** By how much its clock has gone wrong, ms; setting it makes that good. */
  clockWrongByMs?(): number;
  send(frame: Uint8Array): void;
  execute(command: Command1815, held: Held): boolean;
}

interface Event1815 {
  point: Point1815;
  held: Held;
}

/** What was sent and is to be confirmed. */
interface Awaited {
  sequence: number;
  numbers: number[];
  atMs: number;
}

/** Of what is told in one fragment; none grows past the 2048 octets that every station takes. */
const MOST_EVENTS = 100;
const MOST_STATIC = 200;
const SEQUENCE_END = 16;

/** An outstation of IEEE 1815: tells what is, keeps events by class until they are confirmed, takes commands and the time. */
export class Outstation1815 {
  private readonly memory: EventMemory<Event1815>;
  private readonly now = new Map<Point1815, { held: Held; told: Held | null; toldAtMs: number }>();
  private readonly points: ReadonlyMap<string, Point1815>;
  private channel: Channel1815 | null = null;
  private readonly unasked = new Set<number>();
  private sequence = 0;
  private solicited: Awaited | null = null;
  private unsolicited: (Awaited & { bytes: Uint8Array }) | null = null;
  private saidHello = false;
  private hasRestarted = true;
  private happened = 0;
  private clock: { aheadMs: number; setMs: number } | null = null;
  private recordedMs: number | null = null;
  private selected: { sequence: number; text: string; atMs: number } | null = null;
  /** Fragments of an answer that go out one after the other, each when the one before is confirmed. */
  private rest: ObjectHeader[][] = [];
  private nowMs = 0;
  /** How many had been thrown away when that was told last. */
  private toldLost = 0;

  constructor(private readonly rules: OutstationRules1815) {
    this.memory = new EventMemory(rules.memory);
    this.points = new Map(rules.points.map((point) => [`${point.kind} ${point.index}`, point]));
  }

  connected(nowMs: number): void {
    this.disconnected();
    this.nowMs = nowMs;
    const { own, other, send } = this.rules;
    this.channel = new Channel1815({ as: 'outstation', own, other, send, deliver: (bytes) => this.take(bytes) });
  }

  /** What was on its way is kept, and goes out again. */
  disconnected(): void {
    this.channel = null;
    this.solicited = null;
    this.unsolicited = null;
    this.selected = null;
    this.rest = [];
    this.memory.release();
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    this.nowMs = nowMs;
    this.channel?.hear(bytes);
    this.tellUnasked();
  }

  step(nowMs: number): void {
    this.nowMs = nowMs;
    const { confirmMs } = this.rules;
    if (this.solicited && nowMs - this.solicited.atMs >= confirmMs) {
      this.memory.release(this.solicited.numbers);
      this.solicited = null;
      this.rest = [];
    }
    if (this.unsolicited && nowMs - this.unsolicited.atMs >= confirmMs) {
      this.unsolicited.atMs = nowMs;
      this.channel?.send(this.unsolicited.bytes);
    }
    this.tellUnasked();
  }

  /** A point has this value and these flags now; an event where that is to be told. */
  set(kind: PointKind1815, index: number, held: Held, nowMs: number): void {
    const point = this.points.get(`${kind} ${index}`);
    if (!point) return;
    const now = this.now.get(point) ?? { held, told: null, toldAtMs: -Infinity };
    now.held = held;
    this.now.set(point, now);
    if (now.told && !isNews(now.told, held, point.threshold)) return;
    const isFirst = now.told === null;
    now.told = held;
    if (isFirst || point.eventClass === 0) return;
    // Two events of one point never have the same time, or they could not be told apart.
    now.toldAtMs = Math.max(this.timeAt(nowMs), now.toldAtMs + 1);
    this.happened += 1;
    this.memory.add({ point, held: { ...held, time: now.toldAtMs } });
  }

  timeAt(nowMs: number): number {
    return Math.round(nowMs + (this.clock?.aheadMs ?? 0) + this.wrongBy);
  }

  private get wrongBy(): number {
    return this.rules.clockWrongByMs?.() ?? 0;
  }

  state(nowMs: number): OutstationState & { strange: number } {
    const { happened, channel, clock, memory } = this;
    const clockAgeMs = clock && nowMs - clock.setMs;
    return { ...memory.state, happened, isConnected: channel !== null, clockAgeMs, strange: channel?.state.strange ?? 0 };
  }

  private take(bytes: Uint8Array): void {
    const read = readFragment(bytes);
    if (!read) return;
    const { fragment, problem } = read;
    const { functionCode, sequence, isUnsolicited, headers } = fragment;
    if (functionCode === does.confirm) return this.confirmed(sequence, isUnsolicited);
    if (functionCode >= does.answer) return;
    // A new question ends what is left of the answer to the last.
    if (this.solicited) this.memory.release(this.solicited.numbers);
    this.solicited = null;
    this.rest = [];
    if (problem !== null) return this.answer(sequence, [], indicates.objectUnknown);
    if (functionCode === does.read) this.read(sequence, headers);
    else if (functionCode === does.write) this.write(sequence, headers);
    else if (functionCode === does.select || functionCode === does.operate || functionCode === does.directOperate) this.command(fragment);
    else if (functionCode === does.enable || functionCode === does.disable) this.turn(sequence, headers, functionCode === does.enable);
    else if (functionCode === does.delay)
      this.answer(sequence, [{ group: 52, variation: 2, qualifier: COUNTED, objects: [{ index: null, held: { value: 0 } }] }]);
    else if (functionCode === does.recordTime) {
      this.recordedMs = this.nowMs;
      this.answer(sequence, []);
    } else this.answer(sequence, [], indicates.notSupported);
  }

  private read(sequence: number, headers: readonly ObjectHeader[]): void {
    const classes = new Set<number>();
    const wanted: Point1815[] = [];
    let unknown = 0;
    for (const { group, variation } of headers) {
      const kind = kindOfGroup.get(group);
      if (group === 60 && variation >= 2 && variation <= 4) classes.add(variation - 1);
      else if (group === 60 && variation === 1) wanted.push(...this.rules.points);
      else if (kind && pointKinds[kind].now[0] === group) wanted.push(...this.rules.points.filter((point) => point.kind === kind));
      else unknown = indicates.objectUnknown;
    }
    const events = classes.size > 0 ? this.eventsOf(classes) : [];
    const fragments = [...(events.length > 0 ? [headersOf(events)] : []), ...this.staticHeaders(wanted)];
    const [first = [], ...rest] = fragments;
    this.rest = rest;
    this.answer(
      sequence,
      first,
      unknown,
      events.map(({ number }) => number),
    );
  }

  /** The oldest of these classes that are not on their way; they are then. */
  private eventsOf(classes: ReadonlySet<number>): KeptEvent<Event1815>[] {
    return this.memory.take(
      () => MOST_EVENTS,
      () => true,
      ({ point }) => classes.has(point.eventClass),
    );
  }

  private staticHeaders(points: readonly Point1815[]): ObjectHeader[][] {
    const fragments: ObjectHeader[][] = [];
    for (let at = 0; at < points.length; at += MOST_STATIC) {
      const own = points.slice(at, at + MOST_STATIC);
      const kinds = [...new Set(own.map(({ kind }) => kind))];
      fragments.push(
        kinds.map((kind) => {
          const objects = own.flatMap((point) =>
            point.kind === kind
              ? [{ index: point.index, held: this.now.get(point)?.held ?? { value: 0, online: false, restart: true } }]
              : [],
          );
          const [group, variation] = pointKinds[kind].now;
          return indexed(group, variation, objects);
        }),
      );
    }
    return fragments;
  }

  private write(sequence: number, headers: readonly ObjectHeader[]): void {
    let wrong = 0;
    for (const { group, variation, objects } of headers) {
      const [object] = objects;
      const time = Number(object?.held['time'] ?? NaN);
      if (group === 50 && variation === 1 && Number.isFinite(time))
        this.clock = { aheadMs: time - this.nowMs - this.wrongBy, setMs: this.nowMs };
      else if (group === 50 && variation === 3 && Number.isFinite(time) && this.recordedMs !== null)
        this.clock = { aheadMs: time - this.recordedMs - this.wrongBy, setMs: this.nowMs };
      else if (group === 80 && object?.index === RESTART_BIT && object.held['value'] === 0) this.hasRestarted = false;
      else wrong = indicates.parameterWrong;
    }
    this.answer(sequence, [], wrong);
  }

  private turn(sequence: number, headers: readonly ObjectHeader[], isOn: boolean): void {
    for (const { group, variation } of headers) {
      if (group !== 60 || variation < 2) continue;
      if (isOn) this.unasked.add(variation - 1);
      else this.unasked.delete(variation - 1);
    }
    this.answer(sequence, []);
  }

  private command({ functionCode, sequence, headers }: Fragment): void {
    const text = JSON.stringify(headers);
    const isSelect = functionCode === does.select;
    const chosen = this.selected;
    this.selected = null;
    // What is operated has to be, word for word, what was selected just before.
    const isSame = chosen !== null && chosen.text === text && chosen.sequence === (sequence + SEQUENCE_END - 1) % SEQUENCE_END;
    const isInTime = isSame && this.nowMs - chosen.atMs <= this.rules.selectedMs;
    let isGood = true;
    const answers = headers.map((header) => ({
      ...header,
      objects: header.objects.map(({ index, held }) => {
        const status = this.statusOf(header, index, held, functionCode, isSame, isInTime);
        isGood &&= status === became.accepted;
        return { index, held: { ...held, status } };
      }),
    }));
    if (isSelect && isGood) this.selected = { sequence, text, atMs: this.nowMs };
    this.answer(sequence, answers);
  }

  private statusOf(
    { group }: ObjectHeader,
    index: number | null,
    held: Held,
    functionCode: number,
    isSame: boolean,
    isInTime: boolean,
  ): number {
    const kind = group === 12 ? 'output' : group === 41 ? 'set point' : null;
    const own = this.rules.commands.find((one) => one.kind === kind && one.index === index);
    if (!own) return became.notSupported;
    if (functionCode === does.select) return became.accepted;
    if (functionCode === does.operate && !isSame) return became.notSelected;
    if (functionCode === does.operate && !isInTime) return became.tooLongAgo;
    if (functionCode === does.directOperate && own.selectFirst) return became.notSelected;
    return this.rules.execute(own, held) ? became.accepted : became.refused;
  }

  private confirmed(sequence: number, isUnsolicited: boolean): void {
    const awaited = isUnsolicited ? this.unsolicited : this.solicited;
    if (awaited?.sequence !== sequence) return;
    this.memory.confirm(awaited.numbers);
    if (isUnsolicited) {
      this.unsolicited = null;
      this.saidHello = true;
      return;
    }
    this.solicited = null;
    const [next, ...rest] = this.rest;
    this.rest = rest;
    if (next) this.answer((sequence + 1) % SEQUENCE_END, next, 0, [], false);
  }

  private answer(sequence: number, headers: ObjectHeader[], more = 0, numbers: number[] = [], isFirst = true): void {
    const isFinal = this.rest.length === 0;
    const wantsConfirm = numbers.length > 0 || !isFinal;
    const built = this.build(
      fragmentOf({ functionCode: does.answer, sequence, headers, isFirst, isFinal, wantsConfirm, indications: this.indications() | more }),
    );
    if (wantsConfirm) this.solicited = { sequence, numbers, atMs: this.nowMs };
    this.channel?.send(built);
  }

  /** Events of the classes that may be sent unasked; at first that it is there, with nothing in it. */
  private tellUnasked(): void {
    if (!this.channel || this.unsolicited || this.solicited) return;
    const events = this.saidHello && this.unasked.size > 0 ? this.eventsOf(this.unasked) : [];
    if (this.saidHello && events.length === 0) return;
    const sequence = this.sequence;
    this.sequence = (sequence + 1) % SEQUENCE_END;
    const bytes = this.build(
      fragmentOf({
        ...{ functionCode: does.unsolicited, sequence, isUnsolicited: true, wantsConfirm: true },
        ...{ headers: headersOf(events), indications: this.indications() },
      }),
    );
    this.unsolicited = { sequence, numbers: events.map(({ number }) => number), atMs: this.nowMs, bytes };
    this.channel.send(bytes);
  }

  private indications(): number {
    const { thrownAway } = this.memory.state;
    const isLost = thrownAway > this.toldLost;
    this.toldLost = thrownAway;
    const classes = [1, 2, 3].filter((one) => this.memory.waits(({ point }) => point.eventClass === one));
    return (
      classes.reduce((sum, one) => sum | indicates.ofClass(one), 0) |
      (this.clock ? 0 : indicates.needsTime) |
      (this.hasRestarted ? indicates.restarted : 0) |
      (isLost ? indicates.eventsLost : 0)
    );
  }

  private build(fragment: Fragment): Uint8Array {
    const built = buildFragment(fragment);
    if (!built.ok) throw new Error(built.problem.message);
    return built.value;
  }
}

/** Events in their order; those of one kind that follow each other share a header. */
function headersOf(events: readonly KeptEvent<Event1815>[]): ObjectHeader[] {
  const headers: ObjectHeader[] = [];
  for (const { event } of events) {
    const { event: timed, plain } = pointKinds[event.point.kind];
    const [group, variation] = event.point.withTime ? timed : plain;
    const last = headers.at(-1);
    const object = { index: event.point.index, held: event.held };
    if (last?.group === group && last.variation === variation) last.objects.push(object);
    else headers.push(indexed(group, variation, [object]));
  }
  return headers;
}
