import { type Counters, triesIn } from '@plain-envoy/core/feed';

const WINDOW_MS = 5000;
const SHORTEST_MS = 1000;

/** How many exchanges a second each device has had of late, from counters that only grow. */
export class Rates {
  private readonly samples = new Map<string, { atMs: number; exchanges: number }[]>();

  take(devices: readonly Counters[], nowMs: number): void {
    for (const counters of devices) {
      const known = this.samples.get(counters.id) ?? [];
      // One sample from before the window stays, so that the window is always covered.
      while (known.length > 1 && known[1]!.atMs < nowMs - WINDOW_MS) known.shift();
      known.push({ atMs: nowMs, exchanges: triesIn(counters) });
      this.samples.set(counters.id, known);
    }
  }

  /** Exchanges a second, over at least one second; it fades where nothing more comes. */
  of(deviceId: string, nowMs: number): number {
    const known = this.samples.get(deviceId);
    const [first, last] = [known?.[0], known?.at(-1)];
    if (!first || !last) return 0;
    return ((last.exchanges - first.exchanges) * 1000) / Math.max(nowMs - first.atMs, SHORTEST_MS);
  }

  clear(): void {
    this.samples.clear();
  }
}
