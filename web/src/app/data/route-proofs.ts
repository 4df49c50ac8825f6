import { inject, Injectable } from '@angular/core';
import { type KeptProof, type ProofEvent, restsOnSame } from '@plain-envoy/core/proof';
import { BehaviorSubject, combineLatest, map, type Observable, Subject, switchMap } from 'rxjs';
import { Api } from './api';
import { Live } from './live';
import { PlanStore } from './plan';
import { ProjectStore } from './project';
import { Run } from './run';
import { replayed } from './state';

/** How a route stands: as its last proof said, or that this no longer counts because what it rests on has changed. */
export type ProofState = KeptProof['state'] | 'stale' | 'never';

/** The proofs of the open project: the last of each route, and the one that goes on. */
@Injectable({ providedIn: 'root' })
export class RouteProofs {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly plan = inject(PlanStore);
  private readonly live = inject(Live);
  private readonly proofs = new BehaviorSubject<ReadonlyMap<string, KeptProof>>(new Map());
  private readonly run = new Run<ProofEvent>();
  private readonly asked = new BehaviorSubject<{ routeId: string; sentence: string } | null>(null);
  private readonly took = new BehaviorSubject<number | null>(null);
  private readonly loads = new Subject<void>();

  /** The last proof of each route. */
  readonly kept$: Observable<ReadonlyMap<string, KeptProof>> = this.proofs;
  /** What a person is asked to do on the real plant. */
  readonly ask$ = combineLatest([this.run.isRunning$, this.asked]).pipe(
    map(([isRunning, asked]) => (isRunning ? asked : null)),
    replayed(),
  );
  readonly progress$ = this.run.progress$;
  readonly problem$ = this.run.problem$;
  readonly isRunning$ = this.run.isRunning$;
  /** How long the last proof took; null while one goes on, and where it was stopped. */
  readonly tookMs$: Observable<number | null> = this.took;
  /** How each proved route stands, by what it rests on now; one that is not there was never proved. */
  readonly states$ = combineLatest([this.proofs, this.plan.plan$]).pipe(
    map(([proofs, plan]) => {
      const stateOf = ({ routeId, state, fingerprint }: KeptProof) => (restsOnSame(plan, routeId, fingerprint) ? state : 'stale');
      return new Map([...proofs].map(([id, proof]): [string, ProofState] => [id, stateOf(proof)]));
    }),
    replayed(),
  );

  constructor() {
    this.loads.pipe(switchMap(() => this.api.get<KeptProof[]>(`projects/${this.projectId()}/proofs`))).subscribe((answer) => {
      if (answer.ok) this.proofs.next(new Map(answer.value.map((proof) => [proof.routeId, proof])));
      else this.run.fail(answer.problem.message);
    });
  }

  load(): void {
    this.loads.next();
  }

  /** Proves these routes, or all; what goes on already goes on. `byPrograms`: through the programs of the controllers that carry them. */
  start(routeIds: readonly string[] | null, withLoss: boolean, byPrograms = false): void {
    if (this.run.isRunning) return;
    this.asked.next(null);
    this.took.next(null);
    const asked = { routeIds, withLoss, on: this.live.bench.on, byPrograms };
    this.run.start(this.api.stream<ProofEvent>(`projects/${this.projectId()}/prove/routes`, asked), (event) => this.take(event));
  }

  /** What has been cut off or held is put back by the server. */
  stop(): void {
    this.run.stop();
  }

  /** Goes on with the next route, whatever the person was asked to move. */
  skip(routeId: string): void {
    this.api.post(`projects/${this.projectId()}/prove/routes/${routeId}/skip`, {}).subscribe((answer) => {
      if (!answer.ok) this.run.fail(answer.problem.message);
    });
  }

  private take(event: ProofEvent): void {
    switch (event.kind) {
      case 'ask':
        return this.asked.next(event);
      case 'proof':
        return this.proofs.next(new Map(this.proofs.value).set(event.proof.routeId, event.proof));
      case 'done':
        return this.took.next(event.tookMs);
    }
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
