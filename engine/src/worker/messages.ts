import type { HandWrite, Plan } from '@plain-envoy/core/plan';
import type { Batch, TripEvent } from '@plain-envoy/core/feed';
import type { TraceFilter } from '@plain-envoy/core/trace';
import type { Outcome } from '../client/index.js';
import type { Found } from '../trace/index.js';
import type { TripWish } from '../runner/index.js';

/** Which of the exchanges that match are wanted; see `TraceRing`. */
export interface TracePart {
  upTo: number | null;
  from: number;
  count: number;
}

/** To the engine's thread. */
export type Command =
  | { type: 'start'; plan: Plan; standInsPort: number }
  | { type: 'plan'; plan: Plan }
  | { type: 'watch'; part: Pick<Plan, 'endpoints' | 'requests'> }
  /** Answered by a report with the same id. */
  | { type: 'write'; id: number; write: HandWrite; words: number[] }
  | { type: 'trips'; id: number; outId: string; backId: string; write: HandWrite; wish: TripWish }
  | { type: 'end-trips'; id: number }
  | { type: 'trace'; id: number; filter: TraceFilter; part: TracePart }
  | { type: 'stop' };

/** From the engine's thread: batches at most ten times a second, and answers. */
export type Report =
  | { type: 'batch'; batch: Batch }
  | { type: 'written'; id: number; outcome: Outcome }
  | { type: 'traced'; id: number; found: Found }
  /** `event` is null when there are no more. */
  | { type: 'trip'; id: number; event: TripEvent | null };
