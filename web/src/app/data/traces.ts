import { inject, Injectable } from '@angular/core';
import {
  type CaptureState,
  keepsAll,
  matcher,
  recordOf,
  type TraceFilter,
  type TraceRecord,
  type TraceRow,
  type TraceTrigger,
} from '@plain-envoy/core/trace';
import { type Answer, Api } from './api';

/** Which of the exchanges that match are wanted; a negative position counts from the newest. */
export interface TracePart {
  upTo: number | null;
  from: number;
  count: number;
}

export interface FoundExchanges {
  kept: { first: number; last: number };
  capture: CaptureState;
  matching: number;
  records: TraceRecord[];
}

/** The exchanges that the bench has seen lately, found on the server. */
@Injectable({ providedIn: 'root' })
export class Traces {
  private readonly api = inject(Api);

  async find(projectId: string, filter: TraceFilter, part: TracePart): Promise<Answer<FoundExchanges>> {
    type Told = Omit<FoundExchanges, 'records'> & { rows: TraceRow[] };
    const answer = await this.api.post<Told>(`projects/${projectId}/trace`, { filter, ...part });
    if (!answer.ok) return answer;
    const { rows, ...found } = answer.value;
    return { ok: true, value: { ...found, records: rows.map(recordOf) } };
  }

  /** Lets the trace begin or end by itself; null keeps all from now on. */
  capture(projectId: string, trigger: TraceTrigger | null): Promise<Answer<unknown>> {
    return this.api.put(`projects/${projectId}/trace/trigger`, { trigger });
  }

  /** The same exchanges as a file. */
  async file(projectId: string, filter: TraceFilter, upTo: number | null, format: string): Promise<Blob | null> {
    const headers = { 'content-type': 'application/json' };
    const body = JSON.stringify({ filter, upTo, format });
    const response = await fetch(`/api/projects/${projectId}/trace/file`, { method: 'POST', headers, body }).catch(() => null);
    return response?.ok ? response.blob() : null;
  }
}

/** The same for a recording that was opened in the page. */
export function findIn(records: readonly TraceRecord[], filter: TraceFilter, { from, count }: TracePart): FoundExchanges {
  const matching = records.filter(matcher(filter));
  const start = from < 0 ? Math.max(0, matching.length + from) : from;
  return {
    kept: { first: records[0]?.number ?? 0, last: records.at(-1)?.number ?? 0 },
    capture: keepsAll,
    matching: matching.length,
    records: matching.slice(start, start + count),
  };
}
