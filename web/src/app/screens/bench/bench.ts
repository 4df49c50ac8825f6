import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { Route } from '@plain-envoy/core/model';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { StandIns } from '../../data/stand-ins';
import { RouteTable } from '../../parts/route-table';
import { BenchControl } from '../../shell/bench-control';
import { StandInCard } from './stand-in-card';

/** Where the plan runs: every route with both its ends, and the stand-ins at which a person can turn. */
@Component({
  selector: 'pe-bench',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouteTable, StandInCard],
  templateUrl: './bench.html',
  styleUrl: './bench.scss',
})
export class BenchScreen {
  private readonly router = inject(Router);
  protected readonly project = inject(ProjectStore);
  protected readonly live = inject(Live);
  protected readonly bench = inject(BenchControl);
  protected readonly standIns = inject(StandIns);
  protected readonly chosen = signal<Route | null>(null);
  protected readonly routes = computed(() => this.project.document()!.routes);
  protected readonly tally = computed(() => {
    const routes = this.routes();
    const good = routes.filter((route) => this.live.route(route.id)?.quality === 'good').length;
    if (!this.live.running()) return 'The bench is stopped. Nothing is asked or written.';
    return `Running on stand-ins. ${good} of ${routes.length} routes deliver.`;
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
