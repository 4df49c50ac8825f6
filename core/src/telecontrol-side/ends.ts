import { wordsOfCount } from '../can-line/index.js';
import type { Freshness, PointMemory } from '../converter/index.js';
import type { CarriedStation } from '../stations/index.js';
import { commands } from '../place/index.js';
import {
  addressKey,
  type ArchivedState,
  type CommandState,
  type EventPoint,
  isEventPoint,
  pointKey,
  sayable,
  type SeenPointState,
  type StationPortState,
  wordsOfSaid,
} from '../telecontrol-line/index.js';
import { type Quality, qualityOf } from './quality.js';
import { type CommandEnd, controlSession, type ControlSession, outstationSession, type OutstationSession } from './sessions.js';

export interface EndRules {
  station: CarriedStation;
  memory: PointMemory;
  /** What is told of the link goes there too: this end is the converter, or Plain Envoy. */
  tells: boolean;
  send(frame: Uint8Array): void;
  /** The connection has to be closed. */
  close(): void;
  /** Whether a control station sets the clocks of its outstations; it does where nothing is said. */
  setsClock?: boolean;
  /** Whether it gives commands that are to stay again when the link is back, and those that came to nothing; it does where nothing is said. */
  repeats?: boolean;
  /** What is wrong on purpose: the address, and the clock, by so many ms. */
  wrong?: { addressBy: number; clockByMs: number };
}

/** One end of a telecontrol link. Times are ms since 1970 that never jump; it has no clock and no socket of its own. */
export interface StationEnd {
  connected(nowMs: number): void;
  disconnected(): void;
  hear(bytes: Uint8Array, nowMs: number): void;
  step(nowMs: number): void;
  state(nowMs: number): StationPortState;
  /** Whether what the other end says of a point can be used: a good value, or, of a command, that the link is up. */
  isGood(pointId: string): boolean;
  /** What its archive has, of one point or of all; nothing at an outstation. */
  archive(pointId: string | null): ArchivedState[];
  /** Gives a command by hand; false where this end gives none. */
  command(pointId: string, said: number): boolean;
}

/** What both ends have: points, counters, and what is told of the link. */
abstract class End {
  protected readonly points: readonly EventPoint[];
  /** Points that say whether another is good, by that. */
  private readonly goodOf: ReadonlyMap<string, EventPoint>;
  protected isConnected = false;
  protected isHeard = false;
  private cuts = 0;
  private problem: string | null = null;
  private readonly startedMs: number;
  private readonly counts = { heard: 0, sent: 0 };

  constructor(
    protected readonly rules: EndRules,
    nowMs: number,
  ) {
    this.startedMs = nowMs;
    const own = rules.station.points.filter(isEventPoint);
    this.points = own.filter(({ place }) => place.part === 'value');
    this.goodOf = new Map(own.flatMap((point) => (point.place.part === 'good' ? [[pointKey(point.place), point]] : [])));
  }

  protected get wrong(): NonNullable<EndRules['wrong']> {
    return this.rules.wrong ?? { addressBy: 0, clockByMs: 0 };
  }

  protected send(frame: Uint8Array): void {
    this.counts.sent += 1;
    this.rules.send(frame);
  }

  protected close(why: string): void {
    this.problem = why;
    this.rules.close();
  }

  protected opened(): void {
    this.isConnected = true;
    this.isHeard = false;
  }

  protected closed(): void {
    if (this.isConnected) this.cuts += 1;
    this.isConnected = false;
    this.isHeard = false;
  }

  protected heardSomething(): void {
    this.isHeard = true;
    this.counts.heard += 1;
  }

  protected qualityPoint(point: EventPoint): EventPoint | undefined {
    return this.goodOf.size > 0 ? this.goodOf.get(pointKey(point.place)) : undefined;
  }

  protected common(nowMs: number) {
    const { isConnected, isHeard, cuts, problem, startedMs, counts } = this;
    return {
      standard: this.rules.station.line.standard,
      isConnected,
      isHeard,
      cuts,
      problem,
      upMs: Math.round(nowMs - startedMs),
      ...counts,
    };
  }

  /** What is told of the link goes where its values go. */
  protected tell(values: Readonly<Record<string, number>>): void {
    if (!this.rules.tells) return;
    for (const point of this.rules.station.points)
      if (point.place.kind === 'stationState') this.rules.memory.write(point, wordsOfCount(values[point.place.state] ?? 0, point));
  }
}

const S = 1000;
/** From so long on it can be said how often something happens. */
const ENOUGH_MS = 10_000;

/** A point that is told, with what was seen of it last. */
interface Looked {
  point: EventPoint;
  /** Says whether it is good. */
  told: EventPoint | undefined;
  words: readonly number[] | null;
  freshness: Freshness;
  isBad: boolean;
}

export class OutstationEnd extends End implements StationEnd {
  private readonly session: OutstationSession;
  private readonly looked: Looked[];
  private readonly pulses = new Map<EventPoint, number>();
  private readonly taken = new Map<string, CommandState>();
  private nowMs = 0;

  constructor(rules: EndRules, nowMs: number) {
    super(rules, nowMs);
    this.looked = this.points.flatMap((point): Looked[] =>
      commands(point.place.sort) ? [] : [{ point, told: this.qualityPoint(point), words: null, freshness: 'good', isBad: false }],
    );
    this.session = outstationSession({
      ...{ station: rules.station, points: this.points },
      addressBy: () => this.wrong.addressBy,
      send: (frame) => this.send(frame),
      close: (why) => this.close(why),
      execute: (point, said, pulseMs) => this.execute(point, said, pulseMs),
      clockWrongByMs: () => this.wrong.clockByMs,
    });
  }

  connected(nowMs: number): void {
    this.opened();
    this.session.connected(nowMs);
  }

  disconnected(): void {
    this.closed();
    this.session.disconnected();
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    this.heardSomething();
    this.nowMs = nowMs;
    this.session.hear(bytes, nowMs);
  }

  step(nowMs: number): void {
    this.nowMs = nowMs;
    const { memory, station } = this.rules;
    for (const [point, until] of this.pulses) {
      if (nowMs < until) continue;
      this.pulses.delete(point);
      this.write(point, /double/.test(point.place.sort) ? 1 : 0);
    }
    const staleMs = station.outstation?.staleMs ?? null;
    for (const looked of this.looked) {
      const { point, told } = looked;
      const words = memory.read(point);
      const freshness = memory.freshness?.(point, staleMs) ?? 'good';
      const isBad = told !== undefined && memory.read(told).every((word) => word === 0);
      if (isBad === looked.isBad && freshness === looked.freshness && isSame(words, looked.words)) continue;
      Object.assign(looked, { words, freshness, isBad });
      const said = sayable(station.line.standard, point, words);
      const quality: Quality = freshness !== 'good' ? freshness : isBad ? 'bad' : said.ok ? 'good' : 'past its range';
      this.session.set(point, said.ok ? said.value : 0, quality, nowMs);
    }
    this.session.step(nowMs);
    const { kept, thrownAway, clockAgeMs } = this.session.state(nowMs);
    this.tell({
      ...{ connected: Number(this.isHeard), cuts: this.common(nowMs).cuts, kept, 'thrown away': thrownAway },
      'clock age': Math.floor((clockAgeMs ?? 0) / S),
    });
  }

  state(nowMs: number): StationPortState {
    const { kept, thrownAway, isFull, happened, clockAgeMs, strange = 0 } = this.session.state(nowMs);
    const common = this.common(nowMs);
    return {
      ...{ as: 'outstation', listensAt: null, ...common, damaged: 0, strange, kept, thrownAway, isFull },
      memory: this.rules.station.outstation?.memory ?? 0,
      eventsPerHour: common.upMs >= ENOUGH_MS ? (happened / common.upMs) * 3600 * S : null,
      ...{ clockAgeMs, clockAheadMs: Math.round(this.session.timeAt(nowMs) - nowMs), archived: 0, again: 0, lagMs: null },
      ...{ points: [], commands: [...this.taken.values()] },
    };
  }

  isGood(pointId: string): boolean {
    return this.isHeard && this.points.some(({ id }) => id === pointId);
  }

  archive(): ArchivedState[] {
    return [];
  }

  command(): boolean {
    return false;
  }

  private execute(point: EventPoint, said: number, pulseMs: number | null): boolean {
    const isDone = this.write(point, said);
    if (isDone && pulseMs !== null) this.pulses.set(point, this.nowMs + pulseMs);
    else this.pulses.delete(point);
    this.taken.set(point.id, { pointId: point.id, atMs: this.nowMs, said, end: isDone ? 'done' : 'refused' });
    return isDone;
  }

  private write(point: EventPoint, said: number): boolean {
    const words = wordsOfSaid(this.rules.station.line.standard, point, said);
    if (words.ok) this.rules.memory.write(point, words.value);
    return words.ok;
  }
}

function isSame(words: readonly number[], before: readonly number[] | null): boolean {
  if (before === null) return false;
  for (let at = 0; at < words.length; at++) if (words[at] !== before[at]) return false;
  return true;
}

/** How long a command that came to nothing is left before it is tried again. */
const AGAIN_MS = 5 * S;
/** An event that comes so long after its time was kept while the link was down; it says nothing of clocks. */
const KEPT_MS = 30 * S;

export class ControlEnd extends End implements StationEnd {
  private readonly session: ControlSession;
  /** Those that were told, and are not taken over yet. */
  private readonly news = new Set<EventPoint>();
  /** Those that were told since the link is open; what was seen before may be otherwise by now. */
  private readonly fresh = new Set<EventPoint>();
  private readonly commanded: readonly EventPoint[];
  private readonly withQuality: readonly EventPoint[];
  /** What of each command the other end has, or has been given; what lies there at the start is no command. */
  private readonly given = new Map<EventPoint, string>();
  private readonly ends = new Map<string, CommandState>();
  private readonly waits = new Map<EventPoint, number>();
  private readonly byHand: [EventPoint, number][] = [];
  private isCommanding = false;
  private lagMs: number | null = null;
  private nowMs = 0;
  private openedMs = 0;

  constructor(rules: EndRules, nowMs: number) {
    super(rules, nowMs);
    this.commanded = this.points.filter(({ place }) => commands(place.sort));
    const told = this.points.filter(({ place }) => !commands(place.sort));
    this.withQuality = told.filter((point) => this.qualityPoint(point));
    for (const point of this.commanded) this.given.set(point, rules.memory.read(point).join());
    const byKey = new Map(told.map((point) => [addressKey(rules.station.line.standard, point.place), point]));
    this.session = controlSession({
      saw: (key) => {
        const point = byKey.get(key);
        if (!point) return;
        this.news.add(point);
        this.fresh.add(point);
      },
      ...{ station: rules.station, points: this.points },
      addressBy: () => this.wrong.addressBy,
      send: (frame) => this.send(frame),
      close: (why) => this.close(why),
      setsClock: rules.setsClock ?? true,
      timeAt: (ms) => ms + this.wrong.clockByMs,
    });
  }

  connected(nowMs: number): void {
    this.opened();
    this.openedMs = nowMs;
    this.session.connected(nowMs);
  }

  /** What is to stay is given again when the link is back: the other end may have been switched off meanwhile. */
  disconnected(): void {
    this.closed();
    this.fresh.clear();
    this.session.disconnected();
    for (const [point, said] of this.given)
      if (point.place.pulseMs === null && this.ends.has(point.id)) this.given.set(point, `not ${said}`);
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    this.nowMs = nowMs;
    const { strange } = this.session.state;
    this.session.hear(bytes, nowMs);
    // What is for another address says nothing of this link.
    if (this.session.state.strange === strange) this.heardSomething();
    this.takeOver(nowMs);
  }

  step(nowMs: number): void {
    this.nowMs = nowMs;
    this.session.step(nowMs);
    this.takeOver(nowMs);
    this.giveCommands(nowMs);
    this.tell({ connected: Number(this.isHeard), cuts: this.common(nowMs).cuts, kept: 0, 'thrown away': 0, 'clock age': 0 });
  }

  state(nowMs: number): StationPortState {
    const { damaged, strange, repeated } = this.session.state;
    const archived = this.points.reduce((sum, point) => sum + this.session.archived(point).length, 0);
    return {
      ...{
        as: 'control station',
        listensAt: null,
        ...this.common(nowMs),
        damaged,
        strange,
        kept: 0,
        thrownAway: 0,
        isFull: false,
        memory: 0,
      },
      ...{ eventsPerHour: null, clockAgeMs: null, clockAheadMs: this.wrong.clockByMs, archived, again: repeated, lagMs: this.lagMs },
      points: this.points.flatMap((point) => (commands(point.place.sort) ? [] : [this.seenState(point)])),
      commands: [...this.ends.values()],
    };
  }

  isGood(pointId: string): boolean {
    const point = this.points.find(({ id }) => id === pointId);
    return point !== undefined && this.isHeard && (commands(point.place.sort) || this.seenState(point).isGood);
  }

  archive(pointId: string | null): ArchivedState[] {
    const { standard } = this.rules.station.line;
    return this.points
      .filter(({ id, place }) => !commands(place.sort) && (pointId === null || id === pointId))
      .flatMap((point) =>
        this.session
          .archived(point)
          .map(({ atMs, value }) => ({ pointId: point.id, atMs, said: Number(value['value']), isGood: qualityOf(standard, value).isGood })),
      );
  }

  command(pointId: string, said: number): boolean {
    const point = this.commanded.find(({ id }) => id === pointId);
    if (point) this.byHand.push([point, said]);
    return point !== undefined;
  }

  private seenState(point: EventPoint): SeenPointState {
    const seen = this.session.seen(point);
    if (!seen) return { pointId: point.id, said: null, isGood: false, quality: 'nothing came yet', atMs: null };
    const { isGood, quality } = qualityOf(this.rules.station.line.standard, seen.held);
    const lost = !this.isHeard ? 'the link is cut' : this.fresh.has(point) ? '' : 'not told since the link is back';
    return { pointId: point.id, said: Number(seen.held['value']), isGood: isGood && !lost, quality: quality || lost, atMs: seen.atMs };
  }

  private takeOver(nowMs: number): void {
    const { memory, station } = this.rules;
    for (const point of this.withQuality) {
      const told = this.qualityPoint(point)!;
      memory.write(told, wordsOfCount(Number(this.seenState(point).isGood), told));
    }
    for (const point of this.news) {
      const seen = this.session.seen(point)!;
      const lag = seen.atMs === null ? null : Math.round(nowMs - seen.atMs);
      if (lag !== null && (lag <= KEPT_MS || nowMs - this.openedMs > KEPT_MS)) this.lagMs = lag;
      const words = wordsOfSaid(station.line.standard, point, Number(seen.held['value']));
      if (words.ok) memory.write(point, words.value);
    }
    this.news.clear();
  }

  /** What is to be commanded and was not yet, one after the other. */
  private giveCommands(nowMs: number): void {
    if (!this.isConnected || !this.isHeard || this.isCommanding) return;
    const [hand] = this.byHand.splice(0, 1);
    if (hand) {
      const [point, said] = hand;
      const words = wordsOfSaid(this.rules.station.line.standard, point, said);
      if (words.ok) {
        this.rules.memory.write(point, words.value);
        this.given.set(point, words.value.join());
      }
      return this.give(point, said, () => undefined);
    }
    for (const point of this.rules.repeats === false ? [] : this.commanded) {
      const words = this.rules.memory.read(point);
      const key = words.join();
      if (this.given.get(point) === key || nowMs < (this.waits.get(point) ?? 0)) continue;
      const isPulse = point.place.pulseMs !== null;
      const said = sayable(this.rules.station.line.standard, point, words);
      // A pulse ends by itself, and what cannot be said is not commanded.
      if (!said.ok || (isPulse && words.every((word) => word === 0))) {
        this.given.set(point, key);
        if (!said.ok) this.ends.set(point.id, { pointId: point.id, atMs: nowMs, said: NaN, end: 'refused' });
        continue;
      }
      this.give(point, said.value, (end) => {
        if (end === 'done' || isPulse) this.given.set(point, key);
        else this.waits.set(point, this.nowMs + AGAIN_MS);
      });
      return;
    }
  }

  private give(point: EventPoint, said: number, ended: (end: CommandEnd) => void): void {
    this.isCommanding = true;
    const atMs = this.nowMs;
    this.ends.set(point.id, { pointId: point.id, atMs, said, end: null });
    this.session.command(point, said, (end) => {
      this.isCommanding = false;
      this.ends.set(point.id, { pointId: point.id, atMs, said, end });
      ended(end);
    });
  }
}
