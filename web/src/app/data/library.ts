import { inject, Injectable } from '@angular/core';
import type { LibraryRow } from '@plain-envoy/core/feed';
import type { DeviceTemplate } from '@plain-envoy/core/model';
import { BehaviorSubject, type Observable, Subject, startWith, switchMap, tap } from 'rxjs';
import { type Answer, Api } from './api';

/** The devices that are kept beside the projects, and what is done to them. They are looked up when somebody first wants them. */
@Injectable({ providedIn: 'root' })
export class Library {
  private readonly api = inject(Api);
  private readonly rows = new BehaviorSubject<readonly LibraryRow[] | null>(null);
  private readonly trouble = new BehaviorSubject<string | null>(null);
  private readonly changed = new Subject<void>();

  /** Null before they are known. */
  readonly all$: Observable<readonly LibraryRow[] | null> = this.rows;
  /** Why they cannot be listed just now; null while all is well. */
  readonly problem$: Observable<string | null> = this.trouble;

  constructor() {
    this.changed
      .pipe(
        startWith(undefined),
        switchMap(() => this.api.get<LibraryRow[]>('library')),
      )
      .subscribe((answer) => {
        this.trouble.next(answer.ok ? null : answer.problem.message);
        if (answer.ok) this.rows.next(answer.value);
      });
  }

  look(): void {
    this.changed.next();
  }

  get({ id, version }: Pick<LibraryRow, 'id' | 'version'>): Observable<Answer<DeviceTemplate>> {
    return this.api.get(`library/${id}/versions/${version}`);
  }

  /** Gives a device: as the next version of one that is there, or as a new one. */
  give(template: DeviceTemplate, as: string | null): Observable<Answer<{ id: string; version: number }>> {
    return this.told(this.api.post('library', { template, as }));
  }

  remove(id: string): Observable<Answer<unknown>> {
    return this.told(this.api.delete(`library/${id}`));
  }

  private told<T>(asked: Observable<Answer<T>>): Observable<Answer<T>> {
    return asked.pipe(tap(() => this.look()));
  }
}
