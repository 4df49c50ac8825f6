import type { Plan } from '@plain-envoy/core/plan';
import type { Batch } from '@plain-envoy/core/feed';

/** To the engine's thread. */
export type Command =
  | { type: 'start'; plan: Plan; standInsPort: number }
  | { type: 'plan'; plan: Plan }
  | { type: 'watch'; part: Pick<Plan, 'endpoints' | 'requests'> }
  | { type: 'stop' };

/** From the engine's thread, at most ten times a second. */
export interface Report {
  type: 'batch';
  batch: Batch;
}
