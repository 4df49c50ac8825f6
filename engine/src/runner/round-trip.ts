import type { TripEvent } from '@plain-envoy/core/feed';
import type { RequestResult } from '../client/index.js';
import { failureText } from '../client/index.js';

/** What a round trip needs of the runner. */
export interface TripWays {
  /** What the source holds now; null while it is not known. */
  source(): readonly number[] | null;
  /** Writes the source, before everything else that waits. */
  write(words: readonly number[]): Promise<RequestResult>;
  /** Resolves with the time by the performance clock when the way back has brought other words than before; null if that takes too long. */
  arrival(withinMs: number): Promise<number | null>;
}

export interface TripWish {
  times: number;
  /** After so long without an arrival a trip counts as lost. */
  withinMs: number;
}

const BETWEEN_MS = { least: 20, most: 500 };

/**
 * Turns the lowest bit of a source over and waits until that has come back by another route, again and again; each time counts
 * from when the source has confirmed it. In the end the source holds what it held before.
 */
export async function* roundTrips(ways: TripWays, { times, withinMs }: TripWish): AsyncGenerator<TripEvent> {
  const before = ways.source();
  if (!before) return yield { kind: 'failed', sentence: 'The source has not been read yet, so nobody knows what to put back.' };
  let words = before;
  try {
    for (let number = 1; number <= times; number++) {
      words = words.map((word, index) => (index === 0 ? word ^ 1 : word));
      const coming = ways.arrival(withinMs);
      const outcome = await ways.write(words);
      if (outcome.kind !== 'written') return yield { kind: 'failed', sentence: `The source could not be written. ${failureText(outcome)}` };
      const fromMs = performance.now();
      const atMs = await coming;
      yield { kind: 'trip', number, ms: atMs === null ? null : Math.max(0, atMs - fromMs) };
      await new Promise((done) => setTimeout(done, pauseAfter(number)));
    }
  } finally {
    await ways.write(before);
  }
}

/** Trips begin at all moments of a round, never in step with it: the parts of the golden ratio are spread evenly. */
function pauseAfter(number: number): number {
  return BETWEEN_MS.least + ((number * 0.618_034) % 1) * (BETWEEN_MS.most - BETWEEN_MS.least);
}
