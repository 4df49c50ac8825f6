import { Injectable } from '@angular/core';
import type { ProveEvent, ReadEvent, TripEvent } from '@plain-envoy/core/feed';
import type { Observable } from 'rxjs';
import { streamed } from './streamed';

/** What is asked of a proof; the server's own schemas say what fits. */
export type ProofKind = 'reach' | 'units' | 'hosts' | 'settings';

/** Walks, sweeps and searches that the server makes; whoever stops listening stops them. */
@Injectable({ providedIn: 'root' })
export class Proofs {
  run(projectId: string, kind: ProofKind, body: object): Observable<ProveEvent> {
    return streamed(`/api/projects/${projectId}/prove/${kind}`, body);
  }

  /** Reads a span of a device's table, once or again and again. */
  read(projectId: string, body: object): Observable<ReadEvent> {
    return streamed(`/api/projects/${projectId}/prove/read`, body);
  }

  /** Times a value out by one route and back by another. */
  roundTrip(projectId: string, body: object): Observable<TripEvent> {
    return streamed(`/api/projects/${projectId}/bench/round-trip`, body);
  }
}
