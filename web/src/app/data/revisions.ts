import { inject, Injectable } from '@angular/core';
import type { RevisionHistory } from '@plain-envoy/core/feed';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Observable } from 'rxjs';
import { type Answer, Api } from './api';
import { askWorker } from './ask-worker';
import type { ToldComparing } from './comparing.worker';
import { PROJECT_ID } from './project-id';

/** What the project was at each of its revisions. */
@Injectable({ providedIn: 'root' })
export class Revisions {
  private readonly api = inject(Api);
  private readonly path = `projects/${inject(PROJECT_ID)}/revisions`;

  list(): Observable<Answer<RevisionHistory>> {
    return this.api.get(this.path);
  }

  at(revision: number): Observable<Answer<{ revision: number; document: ProjectDocument }>> {
    return this.api.get(`${this.path}/${revision}`);
  }

  /** No name takes it away. */
  name(revision: number, name: string, note: string): Observable<Answer<RevisionHistory>> {
    return this.api.put(`${this.path}/${revision}/name`, { name, note });
  }

  /** What is otherwise in the second state than in the first, worked out beside the page. */
  compare(from: ProjectDocument, to: ProjectDocument): Observable<ToldComparing> {
    return askWorker<ToldComparing>(
      () => new Worker(new URL('./comparing.worker', import.meta.url), { type: 'module' }),
      { from, to },
      [],
      (problem) => ({ problem }),
    );
  }
}
