import type { TraceRecord } from '@plain-envoy/core/trace';

/** When an exchange began, as ISO 8601 in UTC; empty where a recording has no times. */
export function timeOf({ atMs }: Pick<TraceRecord, 'atMs'>): string {
  return atMs === null ? '' : new Date(atMs).toISOString();
}
