import { inject, Injectable } from '@angular/core';
import type { LossEvent, MeasuredLoss } from '@plain-envoy/core/handover';
import { BehaviorSubject, type Observable, Subject, switchMap } from 'rxjs';
import { Api } from './api';
import { ProjectStore } from './project';
import { Run } from './run';

/** What was measured of what is lost when something fails, and the measuring that goes on. */
@Injectable({ providedIn: 'root' })
export class LossMeasures {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly measured = new BehaviorSubject<ReadonlyMap<string, MeasuredLoss>>(new Map());
  private readonly run = new Run<LossEvent>();
  private readonly loads = new Subject<void>();

  /** The last of each that may fail, by its id. */
  readonly kept$: Observable<ReadonlyMap<string, MeasuredLoss>> = this.measured;
  readonly progress$ = this.run.progress$;
  readonly problem$ = this.run.problem$;
  readonly isRunning$ = this.run.isRunning$;

  constructor() {
    this.loads.pipe(switchMap(() => this.api.get<MeasuredLoss[]>(`projects/${this.projectId()}/losses/measured`))).subscribe((answer) => {
      if (answer.ok) this.measured.next(new Map(answer.value.map((row) => [row.failingId, row])));
      else this.run.fail(answer.problem.message);
    });
  }

  load(): void {
    this.loads.next();
  }

  /** Makes these fail in turn, or all that may. */
  start(failingIds: readonly string[] | null): void {
    this.run.start(this.api.stream<LossEvent>(`projects/${this.projectId()}/prove/losses`, { failingIds }), (event) => {
      if (event.kind === 'measured') this.measured.next(new Map(this.measured.value).set(event.measured.failingId, event.measured));
    });
  }

  /** What has been cut off or held is put back by the server. */
  stop(): void {
    this.run.stop();
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
