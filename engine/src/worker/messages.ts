import type { HandWrite, Plan } from '@plain-envoy/core/plan';
import type { Batch, TripEvent } from '@plain-envoy/core/feed';
import type { Outcome } from '../client/index.js';
import type { TripWish } from '../runner/index.js';

/** To the engine's thread. */
export type Command =
  | { type: 'start'; plan: Plan; standInsPort: number }
  | { type: 'plan'; plan: Plan }
  | { type: 'watch'; part: Pick<Plan, 'endpoints' | 'requests'> }
  /** Answered by a report with the same id. */
  | { type: 'write'; id: number; write: HandWrite; words: number[] }
  | { type: 'trips'; id: number; outId: string; backId: string; write: HandWrite; wish: TripWish }
  | { type: 'end-trips'; id: number }
  | { type: 'stop' };

/** From the engine's thread: batches at most ten times a second, and answers. */
export type Report =
  | { type: 'batch'; batch: Batch }
  | { type: 'written'; id: number; outcome: Outcome }
  /** `event` is null when there are no more. */
  | { type: 'trip'; id: number; event: TripEvent | null };
