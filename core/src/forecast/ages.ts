/** How old values are when they arrive, ms: from a change at the source until it is at the destination. */
export interface Age {
  /** For a change at any moment, on average. */
  meanMs: number;
  /** For the change that comes at the worst moment. */
  worstMs: number;
}

/**
 * Follows one route. A change that just missed being read comes with the next value, so the worst age at an arrival is counted
 * from when the value before it was asked for; the mean from all moments in between.
 */
export class AgeTracker {
  private sampledAtMs: number | null = null;
  private arrivedAtMs = 0;
  private weighed = 0;
  private span = 0;
  private worst = 0;

  /** A value that was asked for at `sampledAtMs` arrives. */
  arrived(sampledAtMs: number, atMs: number): void {
    const before = this.sampledAtMs;
    this.arrivedAtMs = atMs;
    this.worst = Math.max(this.worst, atMs - (before ?? sampledAtMs));
    if (before !== null && sampledAtMs > before) {
      const gap = sampledAtMs - before;
      this.weighed += gap * (atMs - (before + sampledAtMs) / 2);
      this.span += gap;
    }
    if (before === null || sampledAtMs > before) this.sampledAtMs = sampledAtMs;
  }

  /** What has been seen up to now; null before the first arrival. A value that is overdue counts as old as it is now. */
  age(nowMs: number): Age | null {
    if (this.sampledAtMs === null) return null;
    const first = this.arrivedAtMs - this.sampledAtMs;
    return { meanMs: this.span > 0 ? this.weighed / this.span : first, worstMs: Math.max(this.worst, nowMs - this.sampledAtMs) };
  }
}
