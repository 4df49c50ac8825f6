import { keepsAll, matcher, type TraceFilter, type TraceRecord } from '@plain-envoy/core/trace';
import type { FoundExchanges, TracePart } from './traces';

/** A recording that was opened in the page. What one filter has found is found again without looking twice. */
export class Recorded {
  private search: { key: string; matching: readonly TraceRecord[] } | null = null;

  constructor(
    readonly name: string,
    readonly records: readonly TraceRecord[],
  ) {}

  /** A negative position counts from the newest, as on the server. */
  find(filter: TraceFilter, { from, count }: TracePart): FoundExchanges {
    const key = JSON.stringify(filter);
    if (this.search?.key !== key) this.search = { key, matching: this.records.filter(matcher(filter)) };
    const { matching } = this.search;
    const start = from < 0 ? Math.max(0, matching.length + from) : from;
    return {
      kept: { first: this.records[0]?.number ?? 0, last: this.records.at(-1)?.number ?? 0 },
      capture: keepsAll,
      files: [],
      matching: matching.length,
      records: matching.slice(start, start + count),
    };
  }
}
