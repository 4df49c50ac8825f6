import { inject, Injectable } from '@angular/core';
import type { LossEvent, MeasuredLoss } from '@plain-envoy/core/handover';
import { BehaviorSubject, type Observable, Subject, type Subscription, switchMap } from 'rxjs';
import { Api, Refused } from './api';
import { ProjectStore } from './project';
import { derived } from './state';

interface Going {
  progress: Extract<LossEvent, { kind: 'progress' }> | null;
  problem: string | null;
  isRunning: boolean;
}

/** What was measured of what is lost when something fails, and the measuring that goes on. It goes on while other screens are looked at. */
@Injectable({ providedIn: 'root' })
export class LossMeasures {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly measured = new BehaviorSubject<ReadonlyMap<string, MeasuredLoss>>(new Map());
  private readonly going = new BehaviorSubject<Going>({ progress: null, problem: null, isRunning: false });
  private readonly loads = new Subject<void>();
  private run: Subscription | null = null;

  /** The last of each that may fail, by its id. */
  readonly kept$: Observable<ReadonlyMap<string, MeasuredLoss>> = this.measured;
  readonly progress$ = derived(this.going, ({ progress }) => progress);
  readonly problem$ = derived(this.going, ({ problem }) => problem);
  readonly isRunning$ = derived(this.going, ({ isRunning }) => isRunning);

  constructor() {
    this.loads.pipe(switchMap(() => this.api.get<MeasuredLoss[]>(`projects/${this.projectId()}/losses/measured`))).subscribe((answer) => {
      if (answer.ok) this.measured.next(new Map(answer.value.map((row) => [row.failingId, row])));
      else this.tell({ problem: answer.problem.message });
    });
  }

  load(): void {
    this.loads.next();
  }

  /** Makes these fail in turn, or all that may. */
  start(failingIds: readonly string[] | null): void {
    if (this.going.value.isRunning) return;
    this.tell({ problem: null, progress: null, isRunning: true });
    this.run = this.api.stream<LossEvent>(`projects/${this.projectId()}/prove/losses`, { failingIds }).subscribe({
      next: (event) => this.take(event),
      error: (error: unknown) =>
        this.tell({
          problem: error instanceof Refused ? error.problem.message : 'The connection to the server was lost.',
          isRunning: false,
        }),
      complete: () => this.tell({ isRunning: false }),
    });
  }

  /** What has been cut off or held is put back by the server. */
  stop(): void {
    this.run?.unsubscribe();
    this.tell({ isRunning: false });
  }

  private take(event: LossEvent): void {
    switch (event.kind) {
      case 'progress':
        return this.tell({ progress: event });
      case 'measured':
        return this.measured.next(new Map(this.measured.value).set(event.measured.failingId, event.measured));
      case 'failed':
        return this.tell({ problem: event.sentence });
    }
  }

  private tell(news: Partial<Going>): void {
    this.going.next({ ...this.going.value, ...news });
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
