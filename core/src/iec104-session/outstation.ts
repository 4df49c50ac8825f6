import { type Asdu, asduType, buildAsdu, type Held, type InfoObject, objectsIn, readAsdu } from '../iec104/index.js';
import { EventMemory, isNews, type OutstationState, type Times104 } from '../telecontrol/index.js';
import { Link104 } from './link.js';
import { ALL_COUNTERS, cause, timedType, timeIn, types, WHOLE_STATION } from './stations.js';

/** A point of the monitored direction, by its type without time. */
export interface Point104 {
  address: number;
  type: number;
  /** By how much a measured value has to have changed to be told; 0: each change is. */
  threshold: number;
  /** Between how many ms it is told again, also without a change; null: only when it changes. */
  periodMs: number | null;
  /** Its events have the time at which they happened. */
  withTime: boolean;
}

/** A command that is taken; one that has to be selected first is refused otherwise. */
export interface Command104 {
  address: number;
  /** 45, 46, 48, 49 or 50, without time. */
  type: number;
  selectFirst: boolean;
}

export interface OutstationRules104 {
  station: number;
  points: readonly Point104[];
  commands: readonly Command104[];
  times: Times104;
  /** How many events are kept while they cannot be sent. */
  memory: number;
  /** How long a selection lasts, ms. */
  selectedMs: number;
  /** By how much its clock has gone wrong, ms; setting it makes that good. */
  clockWrongByMs?(): number;
  send(frame: Uint8Array): void;
  close(why: string): void;
  /** Does what a command says; false where it cannot. */
  execute(command: Command104, held: Held): boolean;
}

/** What happened at a point. */
interface Event104 {
  type: number;
  object: InfoObject;
}

/** What lies at a point now, and what was told of it last. */
interface Now {
  held: Held;
  told: Held | null;
  /** When it was told last, by the station’s clock and by its own time. */
  toldAtMs: number;
  periodFromMs: number;
}

/** How far the time of a command may be off, ms: one that was held up on its way is not carried out. */
const COMMAND_LASTS_MS = 60_000;
/** Commands with time are 13 above those without. */
const COMMANDS_WITH_TIME = [58, 59, 61, 62, 63];

/** An outstation of IEC 60870-5-104: keeps events until they have arrived, answers interrogations, takes commands and the time. */
export class Outstation104 {
  private readonly memory: EventMemory<Event104>;
  private readonly now = new Map<number, Now>();
  private readonly points: ReadonlyMap<number, Point104>;
  private link: Link104<readonly number[]> | null = null;
  private readonly replies: Uint8Array[] = [];
  private selected: { address: number; type: number; value: unknown; atMs: number } | null = null;
  /** How far its clock is ahead of the one that is given; null until it was set. */
  private clock: { aheadMs: number; setMs: number } | null = null;
  private wasInitialised = false;
  private happened = 0;
  private nowMs = 0;

  constructor(private readonly rules: OutstationRules104) {
    this.memory = new EventMemory(rules.memory);
    this.points = new Map(rules.points.map((point) => [point.address, point]));
  }

  /** A control station has connected. */
  connected(nowMs: number): void {
    this.disconnected();
    this.nowMs = nowMs;
    const { times, send } = this.rules;
    this.link = new Link104<readonly number[]>(
      {
        ...{ as: 'outstation', times, send },
        deliver: (asdu) => this.take(asdu),
        confirmed: (numbers) => this.memory.confirm(numbers),
        started: () => this.begin(),
        close: (why) => {
          this.disconnected();
          this.rules.close(why);
        },
      },
      nowMs,
    );
  }

  /** What was on its way is kept, and goes out again. */
  disconnected(): void {
    this.link = null;
    this.replies.length = 0;
    this.selected = null;
    this.memory.release();
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    this.nowMs = nowMs;
    this.link?.hear(bytes, nowMs);
    this.pump();
  }

  step(nowMs: number): void {
    this.nowMs = nowMs;
    this.link?.step(nowMs);
    for (const [address, now] of this.now) {
      const point = this.points.get(address)!;
      if (point.periodMs === null || !this.link || nowMs - now.periodFromMs < point.periodMs) continue;
      now.periodFromMs = nowMs;
      this.reply({ type: point.type, cause: cause.periodic }, [{ address, held: now.held }]);
    }
    this.pump();
  }

  /** A point has this value and quality now; an event where that is to be told. */
  set(address: number, held: Held, nowMs: number): void {
    const point = this.points.get(address);
    if (!point) return;
    const now = this.now.get(address) ?? { held, told: null, toldAtMs: -Infinity, periodFromMs: nowMs };
    now.held = held;
    this.now.set(address, now);
    if (now.told && !isNews(now.told, held, point.threshold)) return;
    const isFirst = now.told === null;
    now.told = held;
    // What was there at the start is asked for and is no event.
    if (isFirst) return;
    // Two events of one point never have the same time, or they could not be told apart.
    now.toldAtMs = Math.max(this.timeAt(nowMs), now.toldAtMs + 1);
    this.happened += 1;
    if (!point.withTime) return this.memory.add({ type: point.type, object: { address, held } });
    const time = { atMs: now.toldAtMs, invalid: this.clock === null, summer: false };
    this.memory.add({ type: timedType(point.type), object: { address, held: { ...held, time } } });
  }

  /** Its own time, ms since 1970. */
  timeAt(nowMs: number): number {
    return Math.round(nowMs + (this.clock?.aheadMs ?? 0) + this.wrongBy);
  }

  private get wrongBy(): number {
    return this.rules.clockWrongByMs?.() ?? 0;
  }

  state(nowMs: number): OutstationState {
    const { happened, link, clock, memory } = this;
    return { ...memory.state, happened, isConnected: link !== null, clockAgeMs: clock && nowMs - clock.setMs };
  }

  private begin(): void {
    if (!this.wasInitialised)
      this.reply({ type: types.initialised, cause: cause.initialised }, [{ address: 0, held: { value: 0, changed: false } }]);
    this.wasInitialised = true;
  }

  /** As much as there is room for: answers first, then what happened, the oldest first. */
  private pump(): void {
    while (this.link && this.link.room > 0) {
      const reply = this.replies.shift();
      if (reply) {
        this.link.send(reply, [], this.nowMs);
        continue;
      }
      const events = this.memory.take(
        ({ type }) => objectsIn(asduType(type)!, false),
        (first, next) => first.type === next.type,
      );
      if (events.length === 0) return;
      const built = this.build(
        { type: events[0]!.event.type, cause: cause.spontaneous },
        events.map(({ event }) => event.object),
      );
      this.link.send(
        built,
        events.map(({ number }) => number),
        this.nowMs,
      );
    }
  }

  private take(bytes: Uint8Array): void {
    const read = readAsdu(bytes);
    if (!read) return;
    const { asdu, type, problems } = read;
    // Objects that came as a sequence take more room one by one.
    const refuse = (why: number) =>
      this.reply({ type: asdu.type, cause: why, isNegative: true }, asdu.objects.slice(0, type ? objectsIn(type, false) : 1));
    // Of what is damaged, or of a type that it could not even name in its answer, nothing is done.
    if (!type || problems.length > 0) return;
    if (type.direction !== 'control') return refuse(cause.unknownType);
    if (asdu.station !== this.rules.station) return refuse(cause.unknownStation);
    if (asdu.cause !== cause.activation) return refuse(cause.unknownCause);
    const object = asdu.objects[0]!;
    if (asdu.type === types.interrogation) this.answerAll(asdu, object);
    else if (asdu.type === types.counters) this.answerCounters(asdu, object);
    else if (asdu.type === types.clock) this.setClock(asdu, object);
    else this.command(asdu, object);
  }

  private answerAll(asdu: Asdu, object: InfoObject): void {
    const isWhole = object.held['value'] === WHOLE_STATION;
    this.answer(asdu, object, cause.confirmed, !isWhole);
    if (!isWhole) return;
    for (const type of new Set(this.rules.points.map((point) => point.type))) {
      if (type === types.integrated) continue;
      this.tellAll(type, cause.interrogated);
    }
    this.answer(asdu, object, cause.ended);
  }

  private answerCounters(asdu: Asdu, object: InfoObject): void {
    const isAll = object.held['value'] === ALL_COUNTERS;
    this.answer(asdu, object, cause.confirmed, !isAll);
    if (!isAll) return;
    this.tellAll(types.integrated, cause.counters);
    this.answer(asdu, object, cause.ended);
  }

  /** What all points of a type hold; a point of which nothing is known yet is told as invalid. */
  private tellAll(type: number, why: number): void {
    const objects = this.rules.points.flatMap(({ address, type: own }) => {
      if (own !== type) return [];
      const now = this.now.get(address);
      if (now) now.periodFromMs = this.nowMs;
      return [{ address, held: now?.held ?? { value: 0, invalid: true } }];
    });
    const most = objectsIn(asduType(type)!, false);
    for (let at = 0; at < objects.length; at += most) this.reply({ type, cause: why }, objects.slice(at, at + most));
  }

  private setClock(asdu: Asdu, object: InfoObject): void {
    const time = timeIn(object.held);
    const isGood = time !== null && !time.invalid;
    if (isGood) this.clock = { aheadMs: time.atMs - this.nowMs - this.wrongBy, setMs: this.nowMs };
    this.answer(asdu, object, cause.confirmed, !isGood);
  }

  private command(asdu: Asdu, object: InfoObject): void {
    const type = COMMANDS_WITH_TIME.includes(asdu.type) ? asdu.type - 13 : asdu.type;
    const own = this.rules.commands.find((one) => one.address === object.address);
    if (!own || own.type !== type) return this.answer(asdu, object, cause.unknownObject, true);
    const { held, address } = object;
    const time = timeIn(held);
    const isLate = time !== null && Math.abs(time.atMs - this.timeAt(this.nowMs)) > COMMAND_LASTS_MS;
    if (held['select'] === true) {
      if (!isLate) this.selected = { address, type, value: held['value'], atMs: this.nowMs };
      return this.answer(asdu, object, cause.confirmed, isLate);
    }
    const chosen = this.selected;
    this.selected = null;
    const isSelected =
      chosen !== null &&
      chosen.address === address &&
      chosen.type === type &&
      chosen.value === held['value'] &&
      this.nowMs - chosen.atMs <= this.rules.selectedMs;
    const isDone = !isLate && (isSelected || !own.selectFirst) && this.rules.execute(own, held);
    this.answer(asdu, object, cause.confirmed, !isDone);
    if (isDone) this.answer(asdu, object, cause.ended);
  }

  private answer(asdu: Asdu, object: InfoObject, why: number, isNegative = false): void {
    this.reply({ type: asdu.type, cause: why, isNegative, originator: asdu.originator }, [object]);
  }

  private reply(fields: Pick<Asdu, 'type' | 'cause'> & Partial<Asdu>, objects: InfoObject[]): void {
    this.replies.push(this.build(fields, objects));
  }

  private build(fields: Pick<Asdu, 'type' | 'cause'> & Partial<Asdu>, objects: InfoObject[]): Uint8Array {
    const built = buildAsdu({
      ...{ isSequence: false, isNegative: false, isTest: false, originator: 0, station: this.rules.station },
      ...fields,
      objects,
    });
    if (!built.ok) throw new Error(built.problem.message);
    return built.value;
  }
}
