import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { Route } from '@plain-envoy/core/model';
import { diagnose } from '@plain-envoy/core/diagnose';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { RouteTable } from '../../parts/route-table';
import { BenchControl } from '../../shell/bench-control';
import { Diagnoses } from './diagnoses';
import { StandInCard } from './stand-in-card';

/** Where the plan runs: every route with both its ends, and the stand-ins at which a person can turn. */
@Component({
  selector: 'pe-bench',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouteTable, StandInCard, Diagnoses],
  templateUrl: './bench.html',
  styleUrl: './bench.scss',
})
export class BenchScreen {
  private readonly router = inject(Router);
  private readonly plan = inject(PlanStore);
  protected readonly project = inject(ProjectStore);
  protected readonly live = inject(Live);
  protected readonly bench = inject(BenchControl);
  protected readonly standIns = inject(StandIns);
  protected readonly chosen = signal<Route | null>(null);
  /** What is shown below the routes. */
  protected readonly below = signal<'stand-ins' | 'wrong'>('stand-ins');
  protected readonly diagnoses = computed(() => {
    if (!this.live.running()) return [];
    const seen = { device: (id: string) => this.live.device(id), request: (id: string) => this.live.request(id) };
    return diagnose(this.project.document()!, this.plan.plan(), this.plan.findings(), seen);
  });
  protected readonly routes = computed(() => this.project.document()!.routes);
  /** What a person has done to the stand-ins, so that nobody takes it for trouble. */
  private readonly onPurpose = computed(() => {
    const all = this.standIns.all();
    const faulty = all.filter(({ faults }) => faults.length > 0).length;
    const held = all.reduce((sum, row) => sum + row.held.length, 0);
    const cut = all.filter((row) => row.cut).length;
    const parts = [faulty && `${faulty} with faults`, held && `${held} registers held`, cut && `${cut} cut off`].filter(Boolean);
    return parts.length ? ` On purpose: ${parts.join(', ')}.` : '';
  });
  protected readonly tally = computed(() => {
    const routes = this.routes();
    const good = routes.filter((route) => this.live.route(route.id)?.quality === 'good').length;
    if (!this.live.running()) return 'The bench is stopped. Nothing is asked or written.';
    return `Running on stand-ins. ${good} of ${routes.length} routes deliver.${this.onPurpose()}`;
  });
  protected readonly reason = computed(() => {
    const route = this.chosen();
    if (!route) return null;
    const state = this.live.route(route.id);
    const source = this.live.reading(route.sourceId);
    const destination = this.live.reading(route.destinationId);
    return { name: route.name, text: source?.reason ?? state?.reason ?? destination?.reason ?? 'It delivers; nothing is wrong with it.' };
  });

  constructor() {
    effect(() =>
      this.live.watch(
        this,
        this.routes().flatMap((route) => [route.sourceId, route.destinationId]),
      ),
    );
    inject(DestroyRef).onDestroy(() => this.live.watch(this, []));
  }

  protected choose(route: Route): void {
    this.chosen.set(route);
  }

  protected openRoute(): void {
    void this.router.navigate(['/routes'], { queryParams: { route: this.chosen()?.id } });
  }
}
