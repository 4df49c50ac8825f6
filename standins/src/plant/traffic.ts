import type { TraceEntry } from '@plain-envoy/core/trace';

/** So much is kept for whoever asks for it. */
const KEPT = 5000;

/** What went over the lines of stand-ins that the bench does not see by itself, each with a number; the oldest is forgotten first. */
export class Traffic {
  private entries: TraceEntry[] = [];
  private last = 0;

  add(entry: Omit<TraceEntry, 'number'>): void {
    this.last += 1;
    this.entries.push({ ...entry, number: this.last });
    if (this.entries.length > KEPT * 1.1) this.entries = this.entries.slice(-KEPT);
  }

  /** Those after a number; a number that has not been given yet is of an earlier start, and all are new. */
  since(after: number): { last: number; entries: readonly TraceEntry[] } {
    const { last } = this;
    return { last, entries: this.entries.filter(({ number }) => after > last || number > after) };
  }
}
