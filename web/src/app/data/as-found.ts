import { inject, Injectable } from '@angular/core';
import type { KeptObserved, ObservingEvent } from '@plain-envoy/core/as-found';
import type { Target } from '@plain-envoy/core/plan';
import { BehaviorSubject, type Observable, Subject, switchMap } from 'rxjs';
import { Api } from './api';
import { ProjectStore } from './project';
import { Run } from './run';

/** What is looked at; `ids` null for all devices, with `sweeps` also who else is on each line. `revision` null for the project as it is now. */
export interface Looked {
  on: Target;
  revision: number | null;
  ids: readonly string[] | null;
  sweeps: boolean;
}

/** What was seen last of devices and lines of the open project, and the looking that goes on. */
@Injectable({ providedIn: 'root' })
export class AsFound {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly seen = new BehaviorSubject<ReadonlyMap<string, KeptObserved>>(new Map());
  private readonly run = new Run<ObservingEvent>();
  private readonly loads = new Subject<void>();

  /** The last of each device and line on the stand-ins and on the real plant: by that, a blank, and its id. */
  readonly seen$: Observable<ReadonlyMap<string, KeptObserved>> = this.seen;
  readonly progress$ = this.run.progress$;
  readonly problem$ = this.run.problem$;
  readonly isRunning$ = this.run.isRunning$;

  constructor() {
    this.loads.pipe(switchMap(() => this.api.get<KeptObserved[]>(this.path()))).subscribe((answer) => {
      if (answer.ok) this.seen.next(new Map(answer.value.map((row) => [keyOf(row), row])));
      else this.run.fail(answer.problem.message);
    });
  }

  load(): void {
    this.loads.next();
  }

  look(asked: Looked): void {
    this.run.start(this.api.stream<ObservingEvent>(this.path(), asked), (event) => {
      if (event.kind === 'observed') this.seen.next(new Map(this.seen.value).set(keyOf(event.observed), event.observed));
    });
  }

  stop(): void {
    this.run.stop();
  }

  private path(): string {
    return `projects/${this.project.current!.project.id}/found`;
  }
}

function keyOf({ of, body }: KeptObserved): string {
  return `${body.on} ${of}`;
}
