import { inject, Injectable } from '@angular/core';
import { type CaptureState, recordOf, type TraceEntry, type TraceFilter, type TraceRow, type TraceTrigger } from '@plain-envoy/core/trace';
import { map, type Observable } from 'rxjs';
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
  /** Captures that go to a file just now. */
  files: readonly { id: string; exchanges: number }[];
  matching: number;
  records: TraceEntry[];
}

/** The exchanges that the bench has seen lately, found on the server. */
@Injectable({ providedIn: 'root' })
export class Traces {
  private readonly api = inject(Api);

  find(projectId: string, filter: TraceFilter, part: TracePart): Observable<Answer<FoundExchanges>> {
    type Told = Omit<FoundExchanges, 'records'> & { rows: TraceRow[] };
    return this.api.post<Told>(`projects/${projectId}/trace`, { filter, ...part }).pipe(
      map((answer) => {
        if (!answer.ok) return answer;
        const { rows, ...found } = answer.value;
        return { ok: true, value: { ...found, records: rows.map(recordOf) } };
      }),
    );
  }

  /** Lets the trace begin or end by itself; null keeps all from now on. */
  capture(projectId: string, trigger: TraceTrigger | null): Observable<Answer<unknown>> {
    return this.api.put(`projects/${projectId}/trace/trigger`, { trigger });
  }

  /** Begins a file of all that comes from now on; what comes back is the address that it is fetched from, once. */
  beginFile(projectId: string, filter: TraceFilter): Observable<Answer<string>> {
    const address = (id: string) => `/api/projects/${projectId}/trace/captures/${id}.pcapng`;
    return this.api
      .post<{ id: string }>(`projects/${projectId}/trace/captures`, { filter })
      .pipe(map((answer) => (answer.ok ? { ok: true, value: address(answer.value.id) } : answer)));
  }

  endFile(projectId: string, id: string): Observable<Answer<unknown>> {
    return this.api.delete(`projects/${projectId}/trace/captures/${id}`);
  }

  /** The same exchanges as a file. */
  file(projectId: string, filter: TraceFilter, upTo: number | null, format: string): Observable<Answer<Blob>> {
    return this.api.file(`projects/${projectId}/trace/file`, { filter, upTo, format });
  }
}
