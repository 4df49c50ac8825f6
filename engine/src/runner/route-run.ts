import type { Reading } from '@plain-envoy/core/feed';
import type { Point } from '@plain-envoy/core/model';
import type { PlannedRoute } from '@plain-envoy/core/plan';
import { type Surroundings, carryAcross, isOn, masksOf, wordsFor } from '@plain-envoy/core/route';
import type { Value } from '@plain-envoy/core/value';
import { type ChainMemory, stepOf } from '@plain-envoy/core/steps';
import { areSame } from './words.js';

/** What a route wants done now. `isLoss` where the source is lost and another value stands in for it. */
export type Decision =
  | {
      kind: 'write';
      words: number[];
      masks: number[] | null;
      value: Value | null;
      memory: ChainMemory;
      limited: string | null;
      sourceAtMs: number | null;
      isLoss: boolean;
    }
  /** `sourceAtMs` where the destination already has what was asked for at that time. */
  | { kind: 'hold'; why: string | null; sourceAtMs: number | null }
  | { kind: 'bad'; why: string; isFailure: boolean };

/** What has been read of a point. */
export type ReadingOf = (pointId: string) => Reading;

/**
 * One route while it runs: what it remembers from one time to the next, so that it goes out when its trigger says, only while
 * its condition holds, and does what its loss rule says once its source is lost.
 */
export class RouteRun {
  private memory: ChainMemory = [];
  private lastWords: readonly number[] | null = null;
  private lastValue: Value | null = null;
  private isLimited = false;
  private wasOn: boolean | null = null;
  private edgeWaits = false;
  private goodAtMs: number;
  private seen: { words: readonly number[]; sinceMs: number } | null = null;
  private others: ReadonlyMap<string, Point>;
  private read!: ReadingOf;
  private readonly around: Surroundings = {
    nowMs: 0,
    point: (pointId) => this.others.get(pointId),
    wordsOf: (pointId) => {
      const reading = this.read(pointId);
      return reading.quality === 'good' ? reading.words : null;
    },
  };

  constructor(
    private route: PlannedRoute,
    nowMs: number,
  ) {
    this.goodAtMs = nowMs;
    this.others = byId(route.others);
  }

  /** Takes over a newly compiled route; what was written last still counts where it goes to the same place. */
  replace(route: PlannedRoute): void {
    if (route.destination.id !== this.route.destination.id) this.lastWords = null;
    if (route.source.id !== this.route.source.id) this.seen = null;
    if (JSON.stringify(route.transforms) !== JSON.stringify(this.route.transforms)) this.memory = [];
    this.route = route;
    this.others = byId(route.others);
  }

  isLost(nowMs: number): boolean {
    return nowMs - this.goodAtMs >= this.route.loss.afterMs || this.standsStill(nowMs);
  }

  /** Whether the value at the destination is to be trusted: it came whole, and not too long ago. */
  isValid(nowMs: number): boolean {
    return this.lastWords !== null && !this.isLimited && !this.isLost(nowMs);
  }

  decide(read: ReadingOf, nowMs: number): Decision {
    const { route, around } = this;
    this.read = read;
    around.nowMs = nowMs;
    this.seeEdge();
    const source = read(route.source.id);
    if (source.quality !== 'good' || !source.words) {
      return this.lost(`${route.source.name} is not good: ${source.reason ?? 'it has not been read yet.'}`, false, nowMs);
    }
    const carried = carryAcross(source.words, route, this.memory, around);
    if (!carried.ok) return this.lost(carried.problem.message, true, nowMs);
    this.goodAtMs = nowMs;
    this.seeMove(source.words, nowMs);
    if (this.standsStill(nowMs)) {
      const why = `${route.source.name} has stood still for ${route.loss.stillMs} ms or more, so it counts as lost.`;
      return this.lost(why, false, nowMs);
    }
    const waits = this.whyWaiting();
    if (waits !== null) return { kind: 'hold', why: waits, sourceAtMs: null };
    if (carried.value.kind === 'held') return { kind: 'hold', why: null, sourceAtMs: null };
    const { words, masks, value, memory, limited } = carried.value;
    if (!this.isDue(words, value)) return { kind: 'hold', why: null, sourceAtMs: route.trigger.on === 'start' ? null : source.atMs };
    return { kind: 'write', words, masks, value, memory, limited, sourceAtMs: source.atMs, isLoss: false };
  }

  /** What was decided has been written. */
  written({ words, value, memory, limited, isLoss }: Extract<Decision, { kind: 'write' }>): void {
    if (!this.lastWords || !areSame(this.lastWords, words)) this.lastWords = words;
    this.lastValue = value;
    this.isLimited = limited !== null;
    this.memory = isLoss ? [] : memory;
    if (!isLoss) this.edgeWaits = false;
  }

  /** A heartbeat made on the way moves by itself; then its source counts as moving for as long as it comes. */
  private seeMove(words: readonly number[], nowMs: number): void {
    const isMade = this.route.transforms.some(({ kind }) => stepOf(kind).movesByItself);
    if (isMade || !this.seen || !areSame(this.seen.words, words)) this.seen = { words, sinceMs: nowMs };
  }

  private standsStill(nowMs: number): boolean {
    const { stillMs } = this.route.loss;
    return stillMs !== null && this.seen !== null && nowMs - this.seen.sinceMs >= stillMs;
  }

  private lost(why: string, isFailure: boolean, nowMs: number): Decision {
    const { loss } = this.route;
    if (!this.isLost(nowMs) || loss.rule !== 'value') return { kind: 'bad', why, isFailure };
    const words = wordsFor(loss.value ?? 0, this.route);
    if (!words.ok) return { kind: 'bad', why: `${why} ${words.problem.message}`, isFailure };
    const written = { words: words.value, masks: masksOf(this.route), value: loss.value, memory: [], limited: null };
    return { kind: 'write', ...written, sourceAtMs: null, isLoss: true };
  }

  private seeEdge(): void {
    const { trigger } = this.route;
    if (trigger.on !== 'edge') return;
    const on = isOn(trigger.pointId, this.around);
    if (on && this.wasOn === false) this.edgeWaits = true;
    if (on !== null) this.wasOn = on;
  }

  private whyWaiting(): string | null {
    const { whileId, trigger } = this.route;
    const name = (pointId: string) => this.others.get(pointId)?.name ?? 'a point that is gone';
    if (whileId && isOn(whileId, this.around) !== true) return `It waits until ${name(whileId)} is on.`;
    if (trigger.on === 'edge' && !this.edgeWaits) return `It waits until ${name(trigger.pointId)} goes on.`;
    return null;
  }

  private isDue(words: readonly number[], value: Value | null): boolean {
    const { trigger, onlyDifferent } = this.route;
    if (this.lastWords === null) return true;
    const differs = !areSame(this.lastWords, words);
    if (trigger.on === 'start') return false;
    if (trigger.on === 'change') {
      const both = typeof value === 'number' && typeof this.lastValue === 'number';
      return both && trigger.deadband > 0 ? Math.abs(value - (this.lastValue as number)) > trigger.deadband : differs;
    }
    return !onlyDifferent || differs;
  }
}

function byId(points: readonly Point[]): ReadonlyMap<string, Point> {
  return new Map(points.map((point) => [point.id, point]));
}
