import type { TraceEntry } from '@plain-envoy/core/trace';

/** When an exchange began, as ISO 8601 in UTC; empty where a recording has no times. */
export function timeOf({ atMs }: Pick<TraceEntry, 'atMs'>): string {
  return atMs === null ? '' : new Date(atMs).toISOString();
}
