import { inject, Injectable } from '@angular/core';
import type { ListedProject, RevisionHistory } from '@plain-envoy/core/feed';
import { inTermsOf } from '@plain-envoy/core/handover';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { map, type Observable } from 'rxjs';
import { type Answer, Api } from './api';
import { askWorker } from './ask-worker';
import type { ToldComparing } from './comparing.worker';
import { PROJECT_ID } from './project-id';

/** What the project was at each of its revisions. */
@Injectable({ providedIn: 'root' })
export class Revisions {
  private readonly api = inject(Api);
  private readonly projectId = inject(PROJECT_ID);
  private readonly path = `projects/${this.projectId}/revisions`;

  list(): Observable<Answer<RevisionHistory>> {
    return this.api.get(this.path);
  }

  at(revision: number): Observable<Answer<{ revision: number; document: ProjectDocument }>> {
    return this.api.get(`${this.path}/${revision}`);
  }

  /** The other projects that are worked on. */
  others(): Observable<Answer<ListedProject[]>> {
    return this.api
      .get<ListedProject[]>('projects')
      .pipe(map((answer) => (answer.ok ? { ok: true, value: answer.value.filter((row) => this.isAnother(row)) } : answer)));
  }

  /** Another project as it is now, in the terms of this one. */
  other(id: string, mine: ProjectDocument): Observable<Answer<ProjectDocument>> {
    return this.api
      .get<{ document: ProjectDocument }>(`projects/${id}`)
      .pipe(map((answer) => (answer.ok ? { ok: true, value: inTermsOf(mine, answer.value.document) } : answer)));
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

  private isAnother({ id, isArchived, deletedAtMs }: ListedProject): boolean {
    return id !== this.projectId && !isArchived && deletedAtMs === null;
  }
}
