import { BehaviorSubject, type Observable, type Subscription } from 'rxjs';
import { Refused } from './api';
import { derived } from './state';

interface Going<Progress> {
  run: Subscription | null;
  progress: Progress | null;
  problem: string | null;
}

/**
 * Something long that the server does for the open project, one at a time. It goes on while other screens are looked at. Of what it tells,
 * `progress` says how far it is, and `failed` with a sentence why it did not come to its end.
 */
export class Run<Event extends { kind: string }> {
  private readonly going = new BehaviorSubject<Going<Extract<Event, { kind: 'progress' }>>>({ run: null, progress: null, problem: null });

  /** The last that was told of how far it is; null before that, and where nothing goes on. */
  readonly progress$ = derived(this.going, ({ progress }) => progress);
  /** Why the last one failed. */
  readonly problem$ = derived(this.going, ({ problem }) => problem);
  readonly isRunning$ = derived(this.going, ({ run }) => run !== null);

  get isRunning(): boolean {
    return this.going.value.run !== null;
  }

  /** `take` gets all that is told; what goes on already goes on, and then nothing is begun. */
  start(events: Observable<Event>, take: (event: Event) => void): void {
    if (this.isRunning) return;
    this.going.next({ run: null, progress: null, problem: null });
    const run = events.subscribe({
      next: (event) => {
        if (isProgress(event)) this.tell({ progress: event });
        if (isFailed(event)) this.tell({ problem: event.sentence });
        take(event);
      },
      error: (error: unknown) => {
        this.over();
        this.fail(error instanceof Refused ? error.problem.message : 'The connection to the server was lost.');
      },
      complete: () => this.over(),
    });
    if (!run.closed) this.tell({ run });
  }

  /** Hangs up; the server ends it then, and puts back what it has changed. */
  stop(): void {
    this.going.value.run?.unsubscribe();
    this.over();
  }

  /** What is wrong with something that belongs to it. */
  fail(problem: string): void {
    this.tell({ problem });
  }

  private over(): void {
    this.tell({ run: null, progress: null });
  }

  private tell(news: Partial<Going<Extract<Event, { kind: 'progress' }>>>): void {
    this.going.next({ ...this.going.value, ...news });
  }
}

function isProgress<Event extends { kind: string }>(event: Event): event is Extract<Event, { kind: 'progress' }> {
  return event.kind === 'progress';
}

function isFailed(event: { kind: string }): event is { kind: 'failed'; sentence: string } {
  return event.kind === 'failed';
}
