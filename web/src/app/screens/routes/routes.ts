import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { type Carry, deletion, type Point, type Route } from '@plain-envoy/core/model';
import { describeRequest } from '@plain-envoy/core/plan';
import { checkEnds } from '@plain-envoy/core/route';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { arrowStep } from '../../parts/keys';
import { RouteTable } from '../../parts/route-table';
import { Bank } from './bank';
import { busiestPair, LANE, ribbonPath, ribbonsBetween } from './banks';
import { RouteForm } from './route-form';

const GAP_WIDTH = 300;

/** Two banks facing each other, source left, destination right; routes are ribbons across. */
@Component({
  selector: 'pe-routes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, Bank, RouteForm, RouteTable],
  templateUrl: './routes.html',
  styleUrl: './routes.scss',
})
export class RoutesScreen {
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly plan = inject(PlanStore);
  private readonly destinationBank = viewChild<Bank>('destinationBank');
  private readonly sourceBank = viewChild<Bank>('sourceBank');
  protected readonly project = inject(ProjectStore);
  protected readonly live = inject(Live);
  /** The chosen route, from the address. */
  readonly route = input<string>();

  protected readonly gapWidth = GAP_WIDTH;
  protected readonly devices = computed(() => this.project.document()!.devices.filter((device) => device.kind !== 'gateway'));
  protected readonly chosenRoute = computed(() => this.project.document()!.routes.find((route) => route.id === this.route()));
  private readonly startPair = computed(() => busiestPair(this.project.document()!.routes, this.project.points()), {
    equal: () => true,
  });
  /** Which devices face each other: those of the chosen route, else the last that were chosen. */
  protected readonly pair = linkedSignal<Route | undefined, { from: string; to: string }>({
    source: () => this.chosenRoute(),
    computation: (route, previous) => {
      const from = this.project.points().get(route?.sourceId ?? '')?.deviceId;
      const to = this.project.points().get(route?.destinationId ?? '')?.deviceId;
      if (from && to) return { from, to };
      return previous?.value ?? this.startPair() ?? { from: this.devices()[0]?.id ?? '', to: this.devices()[1]?.id ?? '' };
    },
  });
  protected readonly sources = computed(() => this.project.pointsOf().get(this.pair().from) ?? []);
  protected readonly destinations = computed(() => this.project.pointsOf().get(this.pair().to) ?? []);
  protected readonly ribbons = computed(() =>
    ribbonsBetween(this.project.document()!.routes, this.sources(), this.destinations()).map((ribbon) => ({
      ...ribbon,
      path: ribbonPath(ribbon, GAP_WIDTH),
    })),
  );
  protected readonly height = computed(() => Math.max(this.sources().length, this.destinations().length, 1) * LANE);
  /** The end that was chosen first, while the other is looked for. */
  protected readonly started = signal<Point | null>(null);
  protected readonly draft = signal<Route | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly onlyPair = signal(false);
  protected readonly shownRoutes = computed(() =>
    this.onlyPair() ? this.ribbons().map((ribbon) => ribbon.route) : this.project.document()!.routes,
  );
  protected readonly summary = computed(() => {
    const routes = this.ribbons().length;
    const ids = new Set(this.ribbons().map((ribbon) => ribbon.route.id));
    const requests = new Set(
      this.plan
        .plan()
        .routes.filter((route) => ids.has(route.id))
        .flatMap((route) => [route.readId, route.writeId]),
    );
    return `${routes} route${routes === 1 ? '' : 's'} here, in ${requests.size} request${requests.size === 1 ? '' : 's'}`;
  });
  protected readonly sentence = computed(() => {
    const planned = this.plan.plan().routes.find((route) => route.id === this.route());
    if (!planned) return null;
    const { endpoints, requests } = this.plan.plan();
    const texts = [planned.readId, planned.writeId]
      .map((id) => requests.find((request) => request.id === id))
      .map((request) => (request ? describeRequest(request, endpoints) : ''));
    return `Plain Envoy ${texts[0]}; then ${texts[1]}.`;
  });

  constructor() {
    effect(() => this.live.watch(this, this.watched()));
    inject(DestroyRef).onDestroy(() => this.live.watch(this, []));
  }

  private readonly watched = computed(() => {
    const inBanks = [...this.sources(), ...this.destinations()].map((point) => point.id);
    return [...inBanks, ...this.project.document()!.routes.flatMap((route) => [route.sourceId, route.destinationId])];
  });

  protected name(deviceId: string): string {
    return this.project.devices().get(deviceId)?.name ?? '';
  }

  protected choosePair(pair: Partial<{ from: string; to: string }>): void {
    this.pair.update((before) => ({ ...before, ...pair }));
    this.started.set(null);
    this.draft.set(null);
  }

  protected turnRound(): void {
    this.choosePair({ from: this.pair().to, to: this.pair().from });
  }

  protected chooseSource(point: Point): void {
    this.started.set(point);
    this.draft.set(null);
    this.chooseRoute(null);
    setTimeout(() => this.destinationBank()?.focus());
  }

  protected chooseDestination(point: Point): void {
    const source = this.started();
    if (!source) {
      const route = this.project.document()!.routes.find((candidate) => candidate.destinationId === point.id);
      this.problem.set(route ? null : 'Choose the source on the left first, then the destination.');
      if (route) this.chooseRoute(route);
      return;
    }
    this.problem.set(null);
    const carry: Carry =
      checkEnds(source, point, 'registers').some((problem) => problem.check === 'width') || !sameLayout(source, point)
        ? 'value'
        : 'registers';
    const { projectId } = source;
    this.draft.set({
      id: newId(),
      projectId,
      name: source.name,
      note: '',
      sourceId: source.id,
      destinationId: point.id,
      roundId: this.project.document()!.rounds[0]?.id ?? '',
      carry,
    });
  }

  protected chooseRoute(route: Route | null): void {
    if (route) {
      this.draft.set(null);
      this.started.set(null);
      this.problem.set(null);
    }
    void this.router.navigate([], { queryParams: { route: route?.id ?? null }, replaceUrl: true });
  }

  protected made(route: Route): void {
    this.draft.set(null);
    this.started.set(null);
    this.chooseRoute(route);
    setTimeout(() => this.sourceBank()?.focus());
  }

  protected closeForm(): void {
    this.draft.set(null);
    this.started.set(null);
    this.chooseRoute(null);
  }

  protected async remove(route: Route): Promise<void> {
    const answer = await this.project.commit(`Delete route ${route.name}`, deletion(this.project.document()!, 'route', route.id));
    if (!answer.ok) return this.problem.set(answer.problem.message);
    this.chooseRoute(null);
    this.editor.say(`Deleted: ${route.name}. Ctrl+Z brings it back.`);
  }

  protected ribbonKey(event: KeyboardEvent, index: number): void {
    const step = arrowStep(event);
    const ribbon = this.ribbons()[index];
    if (step) {
      event.preventDefault();
      const group = (event.currentTarget as Element).parentElement;
      group?.querySelectorAll<SVGElement>('.ribbon')[index + step]?.focus();
    } else if (event.key === 'Enter' && ribbon) {
      this.chooseRoute(ribbon.route);
    } else if (event.key === 'Delete' && ribbon) {
      void this.remove(ribbon.route);
    }
  }
}

function sameLayout(a: Point, b: Point): boolean {
  return a.type === b.type && a.order === b.order && JSON.stringify(a.scale) === JSON.stringify(b.scale);
}
