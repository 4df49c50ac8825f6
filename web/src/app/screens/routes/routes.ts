import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { type Change, deletion, type Point, type Route } from '@plain-envoy/core/model';
import { carrierReaches, describeRequest } from '@plain-envoy/core/plan';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { arrowStep } from '../../parts/keys';
import { RouteTable } from '../../parts/route-table';
import { Bank } from './bank';
import { bracketPath, bracketsOf, busiestPair, drawnRibbons, isInView, LANE, ribbonPath, ribbonsBetween, windowOf } from './banks';
import { HeartbeatPanel } from './heartbeat-panel';
import { OrderPanel } from './order-panel';
import { RouteForm } from './route-form';
import { describeChain } from '@plain-envoy/core/steps';
import { reversed, routeBetween } from '@plain-envoy/core/making';
import { Choose, type Option } from '../../parts/choose';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

const GAP_WIDTH = 240;
type Side = 'source' | 'destination';
type Shown = 'all' | 'here' | 'unrouted' | 'findings';
const none: ReadonlySet<string> = new Set();

const showns: Option<Shown>[] = [
  { value: 'all', text: 'all points' },
  { value: 'here', text: 'routed here' },
  { value: 'unrouted', text: 'not routed yet' },
  { value: 'findings', text: 'with findings' },
];

/** Two banks facing each other, source left, destination right; routes are ribbons across, requests brackets beside the lanes. */
@Component({
  selector: 'pe-routes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Bank,
    Choose,
    HeartbeatPanel,
    MatButtonModule,
    MatCheckboxModule,
    OrderPanel,
    RouteForm,
    RouteTable,
    RouterLink,
    SearchField,
    TextField,
  ],
  templateUrl: './routes.html',
  styleUrl: './routes.scss',
  host: { '(keydown)': 'key($event)' },
})
export class RoutesScreen {
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'plan', 'findings');
  private readonly destinationBank = viewChild<Bank>('destinationBank');
  private readonly sourceBank = viewChild<Bank>('sourceBank');
  private readonly scroll = viewChild<ElementRef<HTMLElement>>('scroll');
  private readonly store = inject(ProjectStore);
  protected readonly project = atEdge(this.store, 'document', 'devices', 'points', 'pointsOf');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  /** The chosen route, from the address. */
  readonly route = input<string>();

  protected readonly gapWidth = GAP_WIDTH;
  /** Devices by the line that they hang on, so that one behind a gateway is found where it is. */
  protected readonly lines = computed(() => {
    const { devices, lines, ports } = this.project.document()!;
    const all = devices.filter((device) => device.kind !== 'gateway');
    const lineOf = new Map([...ports].reverse().map(({ deviceId, lineId }) => [deviceId, lineId]));
    const groups = lines.map(({ id, name }) => ({ name, devices: all.filter((device) => lineOf.get(device.id) === id) }));
    const without = all.filter(({ id }) => !lineOf.has(id));
    return [...groups, { name: 'On no line', devices: without }].filter((group) => group.devices.length);
  });
  protected readonly deviceOptions = computed(() =>
    this.lines().flatMap(({ name, devices }) => devices.map((device) => ({ value: device.id, text: device.name, more: name }))),
  );
  protected readonly showns = showns;
  private readonly devices = computed(() => this.lines().flatMap((group) => group.devices));
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
  protected readonly shown = signal<Shown>('all');
  protected readonly wanted = signal('');
  private readonly routed = computed(() => endsOf(this.project.document()!.routes));
  /** The ends of the routes between the two that face each other. */
  private readonly here = computed(() => {
    const points = this.project.points();
    const { from, to } = this.pair();
    const isHere = ({ sourceId, destinationId }: Route) =>
      points.get(sourceId)?.deviceId === from && points.get(destinationId)?.deviceId === to;
    return endsOf(this.project.document()!.routes.filter(isHere));
  });
  /** The ends of routes that something was found about, and the points themselves. */
  private readonly found = computed(() => {
    const ids = new Set(this.plan.findings().map(({ at }) => at.id));
    const ends = this.project
      .document()!
      .routes.filter(({ id }) => ids.has(id))
      .flatMap(({ sourceId, destinationId }) => [sourceId, destinationId]);
    return new Set([...ids, ...ends]);
  });
  protected readonly sources = computed(() => this.lanes(this.pair().from, 'source'));
  protected readonly destinations = computed(() => this.lanes(this.pair().to, 'destination'));
  protected readonly height = computed(() => Math.max(this.sources().length, this.destinations().length, 1) * LANE);
  private readonly view = signal({ top: 0, height: 400 });
  protected readonly window = computed(() => windowOf(this.view().top, this.view().height));
  private readonly all = computed(() => ribbonsBetween(this.project.document()!.routes, this.sources(), this.destinations()));
  protected readonly ribbons = computed(() => {
    const points = this.project.points();
    const { top, height } = this.view();
    const inView = { first: top / LANE, last: (top + height) / LANE - 1 };
    return drawnRibbons(this.all(), inView, this.route()).map((ribbon) => ({
      ...ribbon,
      path: ribbonPath(ribbon, GAP_WIDTH),
      label: describeChain(ribbon.route.transforms),
      far: points.get(ribbon.part === 'arriving' ? ribbon.route.sourceId : ribbon.route.destinationId)?.name ?? '',
    }));
  });
  private readonly plannedHere = computed(() => {
    const here = new Set(this.all().map(({ route }) => route.id));
    return this.plan.plan().routes.filter(({ id }) => here.has(id));
  });
  protected readonly brackets = computed(() => {
    const { requests, endpoints } = this.plan.plan();
    return (['source', 'destination'] as const).flatMap((side) =>
      bracketsOf(requests, this.plannedHere(), side === 'source' ? this.sources() : this.destinations(), side)
        .filter((bracket) => isInView(bracket, this.window()))
        .map((bracket) => ({
          key: `${side} ${bracket.request.id}`,
          path: bracketPath(bracket, side, GAP_WIDTH),
          text: `${this.who(bracket.request.carrierId)} ${describeRequest(bracket.request, endpoints)}`,
        })),
    );
  });

  protected readonly chosenSources = signal(none);
  protected readonly chosenDestinations = signal(none);
  /** The points that are chosen on one side, in lane order. */
  protected readonly chosen = computed((): { side: Side; points: Point[] } => {
    const side = this.chosenSources().size >= this.chosenDestinations().size ? 'source' : 'destination';
    const ids = side === 'source' ? this.chosenSources() : this.chosenDestinations();
    return { side, points: (side === 'source' ? this.sources() : this.destinations()).filter(({ id }) => ids.has(id)) };
  });
  /** The routes between the banks that the chosen points take part in. */
  protected readonly chosenRoutes = computed(() => {
    const { side, points } = this.chosen();
    const ids = new Set(points.map(({ id }) => id));
    return this.all().flatMap(({ route }) => (ids.has(side === 'source' ? route.sourceId : route.destinationId) ? route : []));
  });
  /** The end that was chosen first, while the other is looked for. */
  protected readonly started = signal<Point | null>(null);
  /** The lane that is being dragged. */
  protected readonly lifted = signal<{ side: Side; point: Point } | null>(null);
  protected readonly draft = signal<Route | null>(null);
  /** Carrying in order, and the first register there where one was pointed at. */
  protected readonly ordering = signal<{ first: Point | null } | null>(null);
  /** Heartbeats between the two are being made. */
  protected readonly beating = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly onlyPair = signal(true);
  protected readonly shownRoutes = computed(() =>
    this.onlyPair() ? this.all().map((ribbon) => ribbon.route) : this.project.document()!.routes,
  );
  /** Who carries the routes between these two; null where that is Plain Envoy, or not the same for all. */
  protected readonly carrier = computed(() => {
    const carriers = new Set(this.all().map(({ route }) => route.carrierId));
    return carriers.size === 1 ? [...carriers][0]! : null;
  });
  /** The same; where nothing goes between these two yet, the one of them that can ask the other. */
  protected readonly proposedCarrier = computed(() => {
    const { from, to } = this.pair();
    if (this.all().length) return this.carrier();
    const document = this.project.document()!;
    const asks = (id: string, other: string) =>
      this.project.devices().get(id)?.kind === 'controller' && carrierReaches(document, id, other) === null;
    return asks(to, from) ? to : asks(from, to) ? from : null;
  });
  protected readonly summary = computed(() => {
    const routes = this.all().length;
    const requests = new Set(this.plannedHere().flatMap((route) => [route.readId, route.writeId]));
    const carriers = [...new Set(this.all().map(({ route }) => this.who(route.carrierId)))];
    const by = carriers.length ? ` · carried by ${carriers.join(' and ')}` : '';
    return `${routes} route${routes === 1 ? '' : 's'} here, in ${requests.size} request${requests.size === 1 ? '' : 's'}${by}`;
  });
  protected readonly sentence = computed(() => {
    const planned = this.plan.plan().routes.find((route) => route.id === this.route());
    if (!planned) return null;
    const { endpoints, requests } = this.plan.plan();
    const texts = [planned.readId, planned.writeId]
      .map((id) => requests.find((request) => request.id === id))
      .map((request) => (request?.local ? 'works in its own memory' : request ? describeRequest(request, endpoints) : ''));
    return `${this.who(planned.carrierId)} ${texts[0]}; then ${texts[1]}.`;
  });
  /** What became of the chosen route, and of those that are drawn. */
  protected readonly states = rowsFor(this.feed.routes, () => {
    const drawn = this.ribbons().map(({ route }) => route.id);
    const chosen = this.route();
    return chosen && !drawn.includes(chosen) ? [...drawn, chosen] : drawn;
  });
  /** What became of the chosen route on the bench. */
  protected readonly state = computed(() => {
    const state = this.states().get(this.route() ?? '');
    if (!this.live.running() || !state) return '';
    const failures = state.failures ? `${state.failures} value${state.failures === 1 ? '' : 's'} could not be carried. ` : '';
    return `${failures}${state.reason ?? ''}`;
  });

  constructor() {
    const observer = new ResizeObserver(() => this.look());
    effect(() => {
      const view = this.scroll()?.nativeElement;
      observer.disconnect();
      if (view) observer.observe(view);
    });
    inject(DestroyRef).onDestroy(() => observer.disconnect());
  }

  protected look(): void {
    const view = this.scroll()?.nativeElement;
    if (view) this.view.set({ top: view.scrollTop, height: view.clientHeight });
  }

  /** Brings a lane into view. */
  protected reach(index: number): void {
    const view = this.scroll()?.nativeElement;
    if (!view) return;
    const top = index * LANE;
    if (top < view.scrollTop) view.scrollTop = top;
    else if (top + LANE > view.scrollTop + view.clientHeight) view.scrollTop = top + LANE - view.clientHeight;
    this.look();
  }

  protected name(deviceId: string): string {
    return this.project.devices().get(deviceId)?.name ?? '';
  }

  private who(carrierId: string | null): string {
    return carrierId === null ? 'Plain Envoy' : this.name(carrierId);
  }

  private lanes(deviceId: string, side: Side): readonly Point[] {
    const points = this.project.pointsOf().get(deviceId) ?? [];
    const wanted = this.wanted().trim().toLowerCase();
    const shown = this.shown();
    if (!wanted && shown === 'all') return points;
    const isShown: Record<Shown, (point: Point) => boolean> = {
      all: () => true,
      here: ({ id }) => this.here()[side].has(id),
      unrouted: ({ id }) => !this.routed()[side].has(id),
      findings: ({ id }) => this.found().has(id),
    };
    return points.filter((point) => point.name.toLowerCase().includes(wanted) && isShown[shown](point));
  }

  protected nothing(deviceId: string): string {
    const has = (this.project.pointsOf().get(deviceId) ?? []).length > 0;
    return has ? 'No point of this device is left by the filter.' : 'This device has no points yet. Add them in Registers.';
  }

  protected choosePair(pair: Partial<{ from: string; to: string }>): void {
    this.pair.update((before) => ({ ...before, ...pair }));
    this.let();
    if (this.scroll()) this.scroll()!.nativeElement.scrollTop = 0;
  }

  protected beat(): void {
    this.closeForm();
    this.beating.set(true);
  }

  protected exchange(): void {
    this.choosePair({ from: this.pair().to, to: this.pair().from });
  }

  /** A lane was taken: the first end of a route, the second one, or the first register for those that are chosen. */
  protected take(side: Side, point: Point): void {
    const { side: chosenSide, points } = this.chosen();
    if (points.length > 1) {
      this.ordering.set({ first: chosenSide === side ? null : point });
      return;
    }
    this.problem.set(null);
    this.ordering.set(null);
    if (side === 'source') this.chooseSource(point);
    else this.chooseDestination(point);
  }

  /** A lane was dropped on one of the other bank: the two are the ends of a route, or the first register for those that are chosen. */
  protected dropOn(side: Side, point: Point): void {
    const lifted = this.lifted();
    this.lifted.set(null);
    if (!lifted || lifted.side === side) return;
    const { side: chosenSide, points } = this.chosen();
    if (points.length > 1 && chosenSide === lifted.side && points.some(({ id }) => id === lifted.point.id)) {
      this.ordering.set({ first: point });
      return;
    }
    this.let();
    const [source, destination] = side === 'destination' ? [lifted.point, point] : [point, lifted.point];
    this.started.set(source);
    this.chooseDestination(destination);
  }

  private chooseSource(point: Point): void {
    this.started.set(point);
    this.draft.set(null);
    this.chooseRoute(null);
    this.chosenSources.set(new Set([point.id]));
    this.chosenDestinations.set(none);
    this.destinationBank()?.focus();
  }

  private chooseDestination(point: Point): void {
    const source = this.started();
    if (!source) {
      const route = this.all().find((ribbon) => ribbon.route.destinationId === point.id)?.route;
      this.problem.set(route ? null : 'Choose the source on the left first, then the destination.');
      if (route) this.chooseRoute(route);
      return;
    }
    const roundId = this.project.document()!.rounds[0]?.id ?? '';
    this.draft.set(routeBetween(source, point, { id: newId(), roundId }, this.carrier()));
  }

  protected chooseRoute(route: Route | null): void {
    if (route) {
      this.let();
      this.problem.set(null);
    }
    void this.router.navigate([], { queryParams: { route: route?.id ?? null }, replaceUrl: true });
  }

  protected made(route: Route): void {
    const next = this.started();
    this.closeForm();
    this.chooseRoute(route);
    this.sourceBank()?.focus(next?.id);
  }

  protected closeForm(): void {
    this.let();
    this.chooseRoute(null);
  }

  protected closeOrder(): void {
    const { side } = this.chosen();
    this.let();
    (side === 'source' ? this.sourceBank() : this.destinationBank())?.focus();
  }

  /** Lets go of what was begun. */
  private let(): void {
    this.draft.set(null);
    this.started.set(null);
    this.ordering.set(null);
    this.beating.set(false);
    this.chosenSources.set(none);
    this.chosenDestinations.set(none);
  }

  protected remove(routes: readonly Route[]): void {
    const document = this.project.document()!;
    const what = routes.length === 1 ? `route ${routes[0]!.name}` : `${routes.length} routes`;
    this.store
      .commit(
        `Delete ${what}`,
        routes.flatMap(({ id }) => deletion(document, 'route', id)),
      )
      .subscribe((answer) => {
        if (!answer.ok) return this.problem.set(answer.problem.message);
        this.closeForm();
        this.editor.say(`Deleted: ${what}. Ctrl+Z brings ${routes.length === 1 ? 'it' : 'them'} back.`);
      });
  }

  /** Source becomes destination and destination source; steps are undone where they can be. */
  protected turn(routes: readonly Route[]): void {
    const points = this.project.points();
    const turned = routes.map((before) => ({
      before,
      ...reversed(before, points.get(before.sourceId)!, points.get(before.destinationId)!),
    }));
    const refused = turned.find(({ problem }) => problem !== null);
    if (refused) return this.problem.set(`${refused.before.name} cannot be turned round. ${refused.problem}`);
    const changes = turned.map(({ before, route }): Change => ({ entity: 'route', id: before.id, before, after: route }));
    const what = routes.length === 1 ? routes[0]!.name : `${routes.length} routes`;
    this.store.commit(`Turn ${what} round`, changes).subscribe((answer) => {
      if (!answer.ok) return this.problem.set(answer.problem.message);
      const lost = [...new Set(turned.flatMap((row) => row.lost))];
      this.exchange();
      this.editor.say(`Turned round: ${what}${lost.length ? `, without ${lost.join(' and ')}, which cannot be undone` : ''}.`);
    });
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Escape' && !this.draft() && !this.ordering() && this.chosen().points.length) this.let();
    if (event.altKey && event.key === 'c' && this.chosen().points.length) {
      event.preventDefault();
      this.ordering.set({ first: null });
    }
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
      void this.remove([ribbon.route]);
    }
  }
}

/** The points from which these routes start, and those at which they end. */
function endsOf(routes: readonly Route[]): Record<Side, ReadonlySet<string>> {
  return {
    source: new Set(routes.map(({ sourceId }) => sourceId)),
    destination: new Set(routes.map(({ destinationId }) => destinationId)),
  };
}
