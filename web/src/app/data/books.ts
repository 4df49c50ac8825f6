import { inject, Injectable } from '@angular/core';
import type { Section } from '@plain-envoy/core/book';
import type { MadeFileEvent } from '@plain-envoy/core/feed';
import type { BookChapter } from '@plain-envoy/core/model';
import { BehaviorSubject, combineLatest, map, type Observable, Subject } from 'rxjs';
import { type Answer, Api } from './api';
import { type MadeFile, madeFile } from './made-file';
import { ProjectStore } from './project';
import { Run } from './run';
import { replayed } from './state';

/** A book that is being made, and how far it is. */
interface Making {
  format: string;
  progress: Extract<MadeFileEvent, { kind: 'progress' }> | null;
}

/** The book of the open project, as the server makes it. */
@Injectable({ providedIn: 'root' })
export class Books {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly run = new Run<MadeFileEvent>();
  private readonly format = new BehaviorSubject('');
  private readonly ready = new Subject<MadeFile>();

  readonly making$: Observable<Making | null> = combineLatest([this.run.isRunning$, this.run.progress$, this.format]).pipe(
    map(([isRunning, progress, format]) => (isRunning ? { format, progress } : null)),
    replayed(),
  );
  readonly problem$ = this.run.problem$;
  readonly made$: Observable<MadeFile> = this.ready;

  /** One chapter, as it would stand in the book; `lineIds` null for the whole project. */
  chapter(chapter: BookChapter, lineIds: readonly string[] | null): Observable<Answer<Section>> {
    return this.api.get<Section>(`projects/${this.projectId()}/book/${chapter}${lineIds ? `?lines=${lineIds.join(',')}` : ''}`);
  }

  make(format: string, lineIds: readonly string[] | null): void {
    if (this.run.isRunning) return;
    this.format.next(format);
    this.run.start(this.api.stream<MadeFileEvent>(`projects/${this.projectId()}/book`, { format, lineIds }), (event) => {
      if (event.kind === 'done') this.ready.next(madeFile(event));
    });
  }

  stop(): void {
    this.run.stop();
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
