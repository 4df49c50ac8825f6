import { inject, Injectable } from '@angular/core';
import { type KeptProof, type ProofEvent, restsOnSame } from '@plain-envoy/core/proof';
import { BehaviorSubject, combineLatest, map, type Observable, Subject, type Subscription, switchMap } from 'rxjs';
import { Api, Refused } from './api';
import { Live } from './live';
import { PlanStore } from './plan';
import { ProjectStore } from './project';
import { derived, replayed } from './state';

/** How a route stands: as its last proof said, or that this no longer counts because what it rests on has changed. */
export type ProofState = KeptProof['state'] | 'stale' | 'never';

/** The proof that goes on, and what came of the last. */
interface Going {
  ask: { routeId: string; sentence: string } | null;
  progress: Extract<ProofEvent, { kind: 'progress' }> | null;
  problem: string | null;
  tookMs: number | null;
}

const idle: Going = { ask: null, progress: null, problem: null, tookMs: null };

/** The proofs of the open project: the last of each route, and the one that goes on. It goes on while other screens are looked at. */
@Injectable({ providedIn: 'root' })
export class RouteProofs {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly plan = inject(PlanStore);
  private readonly live = inject(Live);
  private readonly proofs = new BehaviorSubject<ReadonlyMap<string, KeptProof>>(new Map());
  private readonly run = new BehaviorSubject<Subscription | null>(null);
  private readonly going = new BehaviorSubject<Going>(idle);
  private readonly loads = new Subject<void>();

  /** The last proof of each route. */
  readonly kept$: Observable<ReadonlyMap<string, KeptProof>> = this.proofs;
  /** What a person is asked to do on the real plant. */
  readonly ask$ = derived(this.going, ({ ask }) => ask);
  readonly progress$ = derived(this.going, ({ progress }) => progress);
  readonly problem$ = derived(this.going, ({ problem }) => problem);
  readonly tookMs$ = derived(this.going, ({ tookMs }) => tookMs);
  readonly isRunning$ = derived(this.run, (run) => run !== null);
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
      else this.tell({ problem: answer.problem.message });
    });
  }

  load(): void {
    this.loads.next();
  }

  /** Proves these routes, or all; what goes on already goes on. `byPrograms`: through the programs of the controllers that carry them. */
  start(routeIds: readonly string[] | null, withLoss: boolean, byPrograms = false): void {
    if (this.run.value) return;
    this.tell({ problem: null, tookMs: null });
    const asked = { routeIds, withLoss, on: this.live.bench.on, byPrograms };
    const run = this.api.stream<ProofEvent>(`projects/${this.projectId()}/prove/routes`, asked).subscribe({
      next: (event) => this.take(event),
      error: (error: unknown) => {
        this.tell({ problem: error instanceof Refused ? error.problem.message : 'The connection to the server was lost.' });
        this.over();
      },
      complete: () => this.over(),
    });
    if (!run.closed) this.run.next(run);
  }

  /** What has been cut off or held is put back by the server. */
  stop(): void {
    this.run.value?.unsubscribe();
    this.over();
  }

  /** Goes on with the next route, whatever the person was asked to move. */
  skip(routeId: string): void {
    this.api.post(`projects/${this.projectId()}/prove/routes/${routeId}/skip`, {}).subscribe((answer) => {
      if (!answer.ok) this.tell({ problem: answer.problem.message });
    });
  }

  private over(): void {
    this.run.next(null);
    this.tell({ progress: null, ask: null });
  }

  private take(event: ProofEvent): void {
    switch (event.kind) {
      case 'progress':
        return this.tell({ progress: event });
      case 'ask':
        return this.tell({ ask: event });
      case 'proof':
        return this.proofs.next(new Map(this.proofs.value).set(event.proof.routeId, event.proof));
      case 'failed':
        return this.tell({ problem: event.sentence });
      case 'done':
        return this.tell({ tookMs: event.tookMs });
    }
  }

  private tell(news: Partial<Going>): void {
    this.going.next({ ...this.going.value, ...news });
  }

  private projectId(): string {
    return this.project.current!.project.id;
  }
}
