import type { PlannedRoute } from '@plain-envoy/core/plan';
import { masksOf, wordsFor } from '@plain-envoy/core/route';
import type { Job } from './job.js';
import type { Ledger } from './ledger.js';
import { type Decision, RouteRun } from './route-run.js';
import { areSame } from './words.js';
import type { Piece } from './write-pieces.js';

type Written = Extract<Decision, { kind: 'write' }>;

/** What a route wants written. There are thousands on their way at a time, so that each is one small thing. */
class RoutePiece implements Piece {
  constructor(
    private readonly writes: RouteWrites,
    private readonly route: PlannedRoute,
    private readonly decision: Written,
  ) {}

  get table() {
    return this.route.destination.table;
  }

  get offset() {
    return this.route.destination.offset;
  }

  get words() {
    return this.decision.words;
  }

  get masks() {
    return this.decision.masks;
  }

  written(isUnconfirmed: boolean): void {
    this.writes.written(this.route, this.decision, isUnconfirmed);
  }

  failed(why: string): void {
    this.writes.failed(this.route, why);
  }
}

/** What the routes of a plan want written now, by what the ledger has read for them; how it went is told to the ledger. */
export class RouteWrites {
  private readonly runs = new Map<string, RouteRun>();
  /** What a person wants at the destination of a route until they release it. */
  private readonly forced = new Map<string, readonly number[]>();
  /** Who waits for what a route brings next. */
  private readonly arrivals = new Map<string, Set<(words: readonly number[]) => void>>();

  private readonly readingOf = (pointId: string) => this.ledger.reading(pointId);

  constructor(private readonly ledger: Ledger) {}

  /** Takes over newly compiled routes; one that was there before goes on with what it remembers. */
  keep(routes: readonly PlannedRoute[]): void {
    const kept = new Set(routes.map(({ id }) => id));
    for (const id of [...this.runs.keys()]) if (!kept.has(id)) this.runs.delete(id);
    for (const route of routes) {
      const run = this.runs.get(route.id);
      if (run) run.replace(route);
      else this.runs.set(route.id, new RouteRun(route, Date.now()));
    }
  }

  clear(): void {
    this.runs.clear();
    this.forced.clear();
  }

  /** Keeps these words at the destination of a route, each time it goes out, until they are released by null. */
  force(routeId: string, words: readonly number[] | null): void {
    if (words) this.forced.set(routeId, words);
    else this.forced.delete(routeId);
  }

  /** Resolves with the time by the performance clock when the route has brought other words than before; null if that takes too long. */
  arrival(routeId: string, withinMs: number): Promise<number | null> {
    const before = this.ledger.written(routeId);
    const waiting = this.arrivals.get(routeId) ?? new Set();
    this.arrivals.set(routeId, waiting);
    return new Promise((done) => {
      const end = (atMs: number | null) => {
        clearTimeout(timer);
        waiting.delete(hear);
        done(atMs);
      };
      const hear = (words: readonly number[]) => {
        if (!before || !areSame(before, words)) end(performance.now());
      };
      const timer = setTimeout(() => end(null), withinMs);
      waiting.add(hear);
    });
  }

  piecesOf({ routes, validOf }: Job): Piece[] {
    const pieces: Piece[] = [];
    for (const route of routes) {
      const piece = this.pieceOf(route);
      if (piece) pieces.push(piece);
    }
    if (validOf.length > 0) pieces.push(...this.validPieces(validOf));
    return pieces;
  }

  /** What a route wants written now; null where it holds its value or has none. */
  private pieceOf(route: PlannedRoute): Piece | null {
    const forced = this.forced.get(route.id);
    if (forced) return this.forcedPiece(route, forced);
    const run = this.runs.get(route.id)!;
    const decision = run.decide(this.readingOf, Date.now());
    if (decision.kind === 'hold') {
      this.ledger.routeHeld(route.id, decision.why, decision.sourceAtMs);
      return null;
    }
    if (decision.kind === 'bad') {
      const { why, isFailure } = decision;
      this.ledger.routeFailed(route.id, why, { isFailure, isLost: run.isLost(Date.now()) });
      return null;
    }
    return new RoutePiece(this, route, decision);
  }

  written(route: PlannedRoute, decision: Written, isUnconfirmed: boolean): void {
    const { words, sourceAtMs, isLoss, limited } = decision;
    this.runs.get(route.id)?.written(decision);
    if (isLoss) {
      const why = `${route.source.name} is lost; ${route.loss.value} is written in its place.`;
      this.ledger.routeFailed(route.id, why, { isLost: true, words });
    } else this.ledger.routeWritten(route.id, words, sourceAtMs, { isUnconfirmed, limited });
    for (const hear of this.arrivals.get(route.id) ?? []) hear(words);
  }

  failed(route: PlannedRoute, why: string): void {
    this.ledger.routeFailed(route.id, why);
  }

  private forcedPiece(route: PlannedRoute, words: readonly number[]): Piece {
    const { table, offset } = route.destination;
    return {
      ...{ table, offset, words, masks: masksOf(route) },
      written: () => this.ledger.routeForced(route.id, words),
      failed: (why) => this.ledger.routeFailed(route.id, why),
    };
  }

  /** The bits and words that say whether values are good; one that several routes share is on while all of them are. */
  private validPieces(validOf: readonly PlannedRoute[]): Piece[] {
    const byPoint = new Map(validOf.map(({ valid }) => [valid!.point.id, valid!.point]));
    return [...byPoint.values()].flatMap((point) => {
      const isValid = validOf.every(({ id, valid }) => valid!.point.id !== point.id || this.runs.get(id)!.isValid(Date.now()));
      const words = wordsFor(isValid ? 1 : 0, { destination: point, transforms: [] });
      if (!words.ok) return [];
      const { table, offset } = point;
      const masks = masksOf({ destination: point, transforms: [] });
      return { ...{ table, offset, masks, words: words.value }, written: () => undefined, failed: () => undefined };
    });
  }
}
