import { inject, Injectable } from '@angular/core';
import type { ProveEvent, ReadEvent, TripEvent } from '@plain-envoy/core/feed';
import type { Observable } from 'rxjs';
import { Api } from './api';

/** What is asked of a proof; the server's own schemas say what fits. */
export type ProofKind = 'reach' | 'units' | 'hosts' | 'settings';

/** Walks, sweeps and searches that the server makes; whoever stops listening stops them. */
@Injectable({ providedIn: 'root' })
export class Proofs {
  private readonly api = inject(Api);

  run(projectId: string, kind: ProofKind, body: object): Observable<ProveEvent> {
    return this.api.stream(`projects/${projectId}/prove/${kind}`, body);
  }

  /** Reads a span of a device's table, once or again and again. */
  read(projectId: string, body: object): Observable<ReadEvent> {
    return this.api.stream(`projects/${projectId}/prove/read`, body);
  }

  /** Times a value out by one route and back by another. */
  roundTrip(projectId: string, body: object): Observable<TripEvent> {
    return this.api.stream(`projects/${projectId}/bench/round-trip`, body);
  }
}
