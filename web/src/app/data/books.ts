import { inject, Injectable } from '@angular/core';
import type { Section } from '@plain-envoy/core/book';
import type { BookEvent } from '@plain-envoy/core/feed';
import type { BookChapter } from '@plain-envoy/core/model';
import { BehaviorSubject, type Observable, Subject, type Subscription } from 'rxjs';
import { type Answer, Api, Refused } from './api';
import { ProjectStore } from './project';
import { derived } from './state';

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

/** The book of the open project, as the server makes it. It goes on while other screens are looked at. */
@Injectable({ providedIn: 'root' })
export class Books {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly going = new BehaviorSubject<{ making: Making | null; problem: string | null }>({ making: null, problem: null });
  private readonly ready = new Subject<MadeBook>();
  private run: Subscription | null = null;

  readonly making$ = derived(this.going, ({ making }) => making);
  readonly problem$ = derived(this.going, ({ problem }) => problem);
  readonly made$: Observable<MadeBook> = this.ready;

  /** One chapter, as it would stand in the book. */
  chapter(chapter: BookChapter): Observable<Answer<Section>> {
    return this.api.get<Section>(`projects/${this.projectId()}/book/${chapter}`);
  }

  make(format: string): void {
    if (this.going.value.making) return;
    this.going.next({ making: { format, progress: null }, problem: null });
    this.run = this.api.stream<BookEvent>(`projects/${this.projectId()}/book`, { format }).subscribe({
      next: (event) => this.take(event, format),
      error: (error: unknown) => this.over(error instanceof Refused ? error.problem.message : 'The connection to the server was lost.'),
      complete: () => this.over(this.going.value.problem),
    });
  }

  stop(): void {
    this.run?.unsubscribe();
    this.over(null);
  }

  private take(event: BookEvent, format: string): void {
    switch (event.kind) {
      case 'progress':
        return this.going.next({ ...this.going.value, making: { format, progress: event } });
      case 'failed':
        return this.going.next({ ...this.going.value, problem: event.sentence });
      case 'done': {
        const bytes = Uint8Array.from(atob(event.base64), (sign) => sign.charCodeAt(0));
        return this.ready.next({ name: event.name, blob: new Blob([bytes], { type: event.mediaType }) });
      }
    }
  }

  private over(problem: string | null): void {
    this.going.next({ making: null, problem });
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
