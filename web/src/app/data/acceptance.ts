import { inject, Injectable } from '@angular/core';
import { acceptanceSteps, protocolOf, type ProtocolRow, type Signed, type Signing } from '@plain-envoy/core/acceptance';
import { BehaviorSubject, combineLatest, map, type Observable, Subject, switchMap, tap } from 'rxjs';
import { type Answer, Api } from './api';
import { PlanStore } from './plan';
import { ProjectStore } from './project';
import { replayed } from './state';

/** The protocol of acceptance of the open project: its steps as the project is now, with what was signed for them. */
@Injectable({ providedIn: 'root' })
export class Acceptance {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly plans = inject(PlanStore);
  private readonly signed = new BehaviorSubject<readonly Signed[]>([]);
  private readonly loads = new Subject<void>();
  private readonly refused = new BehaviorSubject<string | null>(null);

  /** Why what was signed is not known; null while all is well. */
  readonly problem$: Observable<string | null> = this.refused;
  readonly rows$: Observable<readonly ProtocolRow[]> = combineLatest([
    combineLatest([this.project.document$, this.plans.plan$, this.plans.findings$]).pipe(
      map(([document, plan, findings]) => (document ? acceptanceSteps({ document, plan, findings }) : [])),
    ),
    this.signed,
  ]).pipe(
    map(([steps, signed]) => protocolOf(steps, signed)),
    replayed(),
  );

  constructor() {
    this.loads.pipe(switchMap(() => this.api.get<Signed[]>(`projects/${this.projectId()}/acceptance`))).subscribe((answer) => {
      if (answer.ok) this.signed.next(answer.value);
      this.refused.next(answer.ok ? null : answer.problem.message);
    });
  }

  load(): void {
    this.loads.next();
  }

  sign(signing: Signing): Observable<Answer<Signed>> {
    return this.api
      .post<Signed>(`projects/${this.projectId()}/acceptance`, signing)
      .pipe(tap((answer) => answer.ok && this.signed.next([...this.signed.value, answer.value])));
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
