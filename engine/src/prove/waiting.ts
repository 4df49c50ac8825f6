import type { PointWords } from '@plain-envoy/core/feed';
import type { Point } from '@plain-envoy/core/model';
import { inBackground } from '../background/index.js';

type Test = (looked: PointWords) => boolean;

interface Waiter {
  point: Point;
  test: Test;
  until: number;
  last: PointWords | null;
  done(looked: PointWords | null, last: PointWords | null): void;
}

const LOOK_EACH_MS = 40;
const ROUNDS = 2.2;

/** How long a value may take from its source to its destination: two rounds with a margin, and what is granted beyond them. */
export function patienceMs({ periodMs }: { periodMs: number }, spareMs: number): number {
  return ROUNDS * periodMs + spareMs;
}

/** Looks at all that anybody waits for, together, so that a hundred who wait cost one question at a time. */
export class Lookout {
  private readonly waiting = new Set<Waiter>();
  private isLooking = false;
  private isOver = false;

  constructor(private readonly look: (points: readonly Point[]) => Promise<PointWords[]>) {}

  /** What a point holds once the test is met; `met` is false where that took longer than `withinMs`, and `looked` what is there. */
  until(point: Point, test: Test, withinMs: number): Promise<{ met: boolean; looked: PointWords | null }> {
    if (this.isOver) return Promise.resolve({ met: false, looked: null });
    return new Promise((done) => {
      const waiter: Waiter = {
        ...{ point, test, until: performance.now() + withinMs, last: null },
        done: (looked, last) => done({ met: looked !== null, looked: looked ?? last }),
      };
      this.waiting.add(waiter);
      if (!this.isLooking) inBackground(this.go());
    });
  }

  /** What a point holds now. */
  async now(point: Point): Promise<PointWords | null> {
    return (await this.look([point]))[0] ?? null;
  }

  /** Nobody is kept waiting any longer, and nobody waits any more. */
  giveUp(): void {
    this.isOver = true;
    for (const waiter of this.waiting) waiter.until = 0;
  }

  private async go(): Promise<void> {
    this.isLooking = true;
    while (this.waiting.size) {
      const waiters = [...this.waiting];
      const points = new Map(waiters.map(({ point }) => [point.id, point]));
      const found = await this.look([...points.values()]).catch((): PointWords[] => []);
      const byId = new Map(found.map((row) => [row.id, row]));
      for (const waiter of waiters) {
        const looked = byId.get(waiter.point.id) ?? null;
        waiter.last = looked ?? waiter.last;
        const met = looked !== null && waiter.test(looked);
        if (!met && performance.now() < waiter.until) continue;
        this.waiting.delete(waiter);
        waiter.done(met ? looked : null, waiter.last);
      }
      await new Promise((done) => setTimeout(done, LOOK_EACH_MS));
    }
    this.isLooking = false;
  }
}
