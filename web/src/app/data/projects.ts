import { inject, Injectable } from '@angular/core';
import type { Begun } from '@plain-envoy/core/beginnings';
import type { ListedProject, TakeInEvent } from '@plain-envoy/core/feed';
import type { Project } from '@plain-envoy/core/model';
import { BehaviorSubject, defer, type Observable, repeat, startWith, Subject, switchMap, tap, timer } from 'rxjs';
import { type Answer, Api } from './api';

/** What others do to the list is seen after so long; what is being counted, sooner. */
const LOOK_MS = 4000;
const COUNTING_MS = 700;

/** What is asked of whoever begins a project. */
export interface Wish {
  name: string;
  client: string;
  /** The id of a beginning. */
  like: string;
  devices?: number;
}

/** All projects, and what is done to one as a whole. */
@Injectable({ providedIn: 'root' })
export class Projects {
  private readonly api = inject(Api);
  private readonly listed = new BehaviorSubject<readonly ListedProject[] | null>(null);
  private readonly trouble = new BehaviorSubject<string | null>(null);
  private readonly changed = new Subject<void>();

  /** Null before they are known. */
  readonly all$: Observable<readonly ListedProject[] | null> = this.listed;
  /** Why they cannot be listed just now; null while all is well. */
  readonly problem$: Observable<string | null> = this.trouble;

  constructor() {
    const look = defer(() => this.api.get<ListedProject[]>('projects')).pipe(repeat({ delay: () => timer(this.untilNextMs()) }));
    this.changed
      .pipe(
        startWith(undefined),
        switchMap(() => look),
      )
      .subscribe((answer) => {
        this.trouble.next(answer.ok ? null : answer.problem.message);
        if (answer.ok) this.listed.next(answer.value);
      });
  }

  /** Looks again now. */
  look(): void {
    this.changed.next();
  }

  beginnings(): Observable<Answer<Begun[]>> {
    return this.api.get('beginnings');
  }

  begin(wish: Wish): Observable<Answer<Project>> {
    return this.told(this.api.post('projects', wish));
  }

  duplicate(id: string): Observable<Answer<Project>> {
    return this.told(this.api.post(`projects/${id}/duplicate`));
  }

  about(id: string, about: Pick<Project, 'name' | 'client' | 'note'>): Observable<Answer<unknown>> {
    return this.told(this.api.put(`projects/${id}/about`, about));
  }

  archive(id: string, archived: boolean): Observable<Answer<unknown>> {
    return this.told(this.api.put(`projects/${id}/archived`, { archived }));
  }

  remove(id: string): Observable<Answer<unknown>> {
    return this.told(this.api.delete(`projects/${id}`));
  }

  restore(id: string): Observable<Answer<unknown>> {
    return this.told(this.api.post(`projects/${id}/restore`));
  }

  /** Takes a project in out of a file; unsubscribing stops it, and nothing is taken in. */
  takeIn(file: Blob): Observable<TakeInEvent> {
    return this.api.stream<TakeInEvent>('projects/file', file).pipe(tap({ finalize: () => this.look() }));
  }

  private untilNextMs(): number {
    const isCounting = this.listed.value?.some(({ findings, deletedAtMs }) => findings === null && deletedAtMs === null);
    return isCounting && this.trouble.value === null ? COUNTING_MS : LOOK_MS;
  }

  private told<T>(asked: Observable<Answer<T>>): Observable<Answer<T>> {
    return asked.pipe(tap(() => this.look()));
  }
}

/** Where a project is saved as a file. */
export function fileAddress(projectId: string, evidence: 'with' | 'without'): string {
  return `/api/projects/${projectId}/file?evidence=${evidence}`;
}
