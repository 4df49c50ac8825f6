import type { Endpoint, PlannedRequest, PlannedRoute } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';
import { isSilence } from './explain.js';

/** A request as it is being run. */
export interface Job {
  request: PlannedRequest;
  endpoint: Endpoint;
  /** How often it is tried this time. */
  tries: number;
  /** For a write: the routes whose values it carries, and those whose validity it tells. */
  routes: PlannedRoute[];
  validOf: PlannedRoute[];
}

export function jobOf(request: PlannedRequest, endpoint: Endpoint): Job {
  return { request, endpoint, tries: request.tries, routes: [], validOf: [] };
}

/** How many tries in a row brought no answer: 0 for an answer, null where nothing was asked. */
export type Silence = number | null;

export function silenceOf(outcome: RequestResult, { tries }: Job): number {
  return isSilence(outcome) ? tries : 0;
}

/** A time of the performance clock in ms since 1970. */
export function sinceEpoch(ms: number): number {
  return performance.timeOrigin + ms;
}
