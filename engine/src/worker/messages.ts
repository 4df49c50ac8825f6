import type { PlanUpdate } from './plan-update.js';
import { type Failure } from '@plain-envoy/core/failure';
import type { MessagePort } from 'node:worker_threads';
import type { SerialSettings, PortSettings } from '@plain-envoy/core/line';
import type { Point } from '@plain-envoy/core/model';
import type { Plan, Target } from '@plain-envoy/core/plan';
import type { Batch, ListenedText, Looked, TripEvent } from '@plain-envoy/core/feed';
import type { TraceFilter, TraceEntry, TraceTrigger } from '@plain-envoy/core/trace';
import type { InquiryResult, RequestResult } from '../client/index.js';
import type { Found } from '../trace/index.js';
import type { TripWish } from '../runner/index.js';
import { type HandInquiry, type HandWrite } from '@plain-envoy/core/compile';

/** Which of the exchanges that match are wanted; see `TraceRing`. */
export interface TracePart {
  upTo: number | null;
  from: number;
  count: number;
}

/** What only the host can open: an adapter to a simulated line that is set like this, or a serial port of this machine. */
export type OwnPort =
  { kind: 'adapter'; lineId: string; settings: SerialSettings } | { kind: 'serial'; path: string; settings: PortSettings };

/** To the engine's thread. */
export type Command =
  | { type: 'start'; plan: Plan; on: Target; standInsPort: number }
  | { type: 'plan'; update: PlanUpdate }
  | { type: 'watch'; part: Pick<Plan, 'endpoints' | 'requests'> }
  | { type: 'look'; looked: Looked }
  /** Answered by a report with the same id. */
  | { type: 'write'; id: number; write: HandWrite; words: number[] }
  | { type: 'read'; id: number; read: Omit<HandWrite, 'masks'> }
  | { type: 'inquire'; id: number; inquiry: HandInquiry }
  | { type: 'force'; routeId: string; words: number[] | null }
  | { type: 'trips'; id: number; outId: string; backId: string; write: HandWrite; wish: TripWish }
  | { type: 'end-trips'; id: number }
  | { type: 'capture'; trigger: TraceTrigger | null; point: Point | null }
  /** What went over lines that the engine does not see by itself. */
  | { type: 'passed'; entries: Omit<TraceEntry, 'number'>[] }
  | { type: 'trace'; id: number; filter: TraceFilter; part: TracePart }
  | { type: 'texts'; id: number }
  | { type: 'trace-since'; id: number; after: number | null; count: number }
  /** Answers an `open`: the port on loopback of an adapter, or a serial port that the host has opened; or why there is none. */
  | { type: 'opened'; id: number; port: { adapter: number } | { lent: MessagePort } | { failure: Failure } }
  | { type: 'stop' };

/** From the engine's thread: batches at most ten times a second, and answers. */
export type Report =
  | { type: 'batch'; batch: Batch }
  | { type: 'answered'; id: number; outcome: RequestResult }
  | { type: 'told'; id: number; outcome: InquiryResult }
  | { type: 'traced'; id: number; found: Found }
  | { type: 'traced-since'; id: number; last: number; records: TraceEntry[] }
  | { type: 'listened'; id: number; texts: ListenedText[] }
  /** Answered by `opened`. */
  | { type: 'open'; id: number; to: OwnPort }
  /** `event` is null when there are no more. */
  | { type: 'trip'; id: number; event: TripEvent | null };
