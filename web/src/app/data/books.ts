import { inject, Injectable } from '@angular/core';
import type { Section } from '@plain-envoy/core/book';
import type { BookEvent } from '@plain-envoy/core/feed';
import type { BookChapter } from '@plain-envoy/core/model';
import { BehaviorSubject, combineLatest, map, type Observable, Subject } from 'rxjs';
import { type Answer, Api } from './api';
import { ProjectStore } from './project';
import { Run } from './run';
import { replayed } from './state';

/** A book that is being made, and how far it is; of what is laid out at once nothing is known in between. */
interface Making {
  format: string;
  progress: Extract<BookEvent, { kind: 'progress' }> | null;
}

/** A book that was made. */
export interface MadeBook {
  name: string;
  blob: Blob;
}

/** The book of the open project, as the server makes it. */
@Injectable({ providedIn: 'root' })
export class Books {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly run = new Run<BookEvent>();
  private readonly format = new BehaviorSubject('');
  private readonly ready = new Subject<MadeBook>();

  readonly making$: Observable<Making | null> = combineLatest([this.run.isRunning$, this.run.progress$, this.format]).pipe(
    map(([isRunning, progress, format]) => (isRunning ? { format, progress } : null)),
    replayed(),
  );
  readonly problem$ = this.run.problem$;
  readonly made$: Observable<MadeBook> = this.ready;

  /** One chapter, as it would stand in the book. */
  chapter(chapter: BookChapter): Observable<Answer<Section>> {
    return this.api.get<Section>(`projects/${this.projectId()}/book/${chapter}`);
  }

  make(format: string): void {
    if (this.run.isRunning) return;
    this.format.next(format);
    this.run.start(this.api.stream<BookEvent>(`projects/${this.projectId()}/book`, { format }), (event) => {
      if (event.kind !== 'done') return;
      const bytes = Uint8Array.from(atob(event.base64), (sign) => sign.charCodeAt(0));
      this.ready.next({ name: event.name, blob: new Blob([bytes], { type: event.mediaType }) });
    });
  }

  stop(): void {
    this.run.stop();
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
