import { computed, inject, Injectable, signal } from '@angular/core';
import { fingerprint, type KeptProof, type ProofEvent } from '@plain-envoy/core/proof';
import type { Subscription } from 'rxjs';
import { Api } from './api';
import { Live } from './live';
import { PlanStore } from './plan';
import { ProjectStore } from './project';
import { Refused, streamed } from './streamed';

/** How a route stands: as its last proof said, or that this no longer counts because what it rests on has changed. */
export type ProofState = KeptProof['state'] | 'stale' | 'never';

/** The proofs of the open project: the last of each route, and the one that goes on. It goes on while other screens are looked at. */
@Injectable({ providedIn: 'root' })
export class RouteProofs {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly plan = inject(PlanStore);
  private readonly live = inject(Live);
  private readonly kept = signal<ReadonlyMap<string, KeptProof>>(new Map());
  private readonly run = signal<Subscription | null>(null);

  /** What a person is asked to do on the real plant. */
  readonly ask = signal<{ routeId: string; sentence: string } | null>(null);
  readonly progress = signal<Extract<ProofEvent, { kind: 'progress' }> | null>(null);
  readonly problem = signal<string | null>(null);
  readonly tookMs = signal<number | null>(null);
  readonly isRunning = computed(() => this.run() !== null);
  /** What each route rests on now. */
  private readonly now = computed(() => {
    const plan = this.plan.plan();
    return new Map(plan.routes.map(({ id }) => [id, fingerprint(plan, id)]));
  });

  proof(routeId: string): KeptProof | undefined {
    return this.kept().get(routeId);
  }

  state(routeId: string): ProofState {
    const proof = this.kept().get(routeId);
    if (!proof) return 'never';
    return proof.fingerprint === (this.now().get(routeId) ?? null) ? proof.state : 'stale';
  }

  async load(): Promise<void> {
    const answer = await this.api.get<KeptProof[]>(`projects/${this.projectId()}/proofs`);
    if (answer.ok) this.kept.set(new Map(answer.value.map((proof) => [proof.routeId, proof])));
    else this.problem.set(answer.problem.message);
  }

  start(routeIds: readonly string[] | null, withLoss: boolean): void {
    this.problem.set(null);
    this.tookMs.set(null);
    const run = streamed<ProofEvent>(`/api/projects/${this.projectId()}/prove/routes`, {
      routeIds,
      withLoss,
      on: this.live.bench().on,
    }).subscribe({
      next: (event) => this.take(event),
      error: (error: unknown) => {
        this.problem.set(error instanceof Refused ? error.problem.message : 'The connection to the server was lost.');
        this.over();
      },
      complete: () => this.over(),
    });
    if (!run.closed) this.run.set(run);
  }

  /** What has been cut off or held is put back by the server. */
  stop(): void {
    this.run()?.unsubscribe();
    this.over();
  }

  /** Goes on with the next route, whatever the person was asked to move. */
  async skip(routeId: string): Promise<void> {
    const answer = await this.api.post(`projects/${this.projectId()}/prove/routes/${routeId}/skip`, {});
    if (!answer.ok) this.problem.set(answer.problem.message);
  }

  private over(): void {
    this.run.set(null);
    this.progress.set(null);
    this.ask.set(null);
  }

  private take(event: ProofEvent): void {
    switch (event.kind) {
      case 'progress':
        return this.progress.set(event);
      case 'ask':
        return this.ask.set(event);
      case 'proof':
        return this.kept.update((kept) => new Map(kept).set(event.proof.routeId, event.proof));
      case 'failed':
        return this.problem.set(event.sentence);
      case 'done':
        return this.tookMs.set(event.tookMs);
    }
  }

  private projectId(): string {
    return this.project.document()!.project.id;
  }
}
