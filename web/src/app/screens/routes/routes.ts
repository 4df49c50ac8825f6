import '@plain-envoy/core/formula';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal, viewChild } from '@angular/core';
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
import { Actions } from '../../parts/actions';
import { Panes } from '../../parts/panes';
import { Unsaved } from '../../parts/unsaved';
import { RouteTable } from '../../parts/route-table';
import { busiestPair } from './banks';
import { type BankOf, BanksView, type Side } from './banks-view';
import { HeartbeatPanel } from './heartbeat-panel';
import { OrderPanel } from './order-panel';
import { RouteForm } from './route-form';
import { reversed, routeBetween } from '@plain-envoy/core/making';
import { Choose, type Option } from '../../parts/choose';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';

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
    BanksView,
    Choose,
    HeartbeatPanel,
    MatButtonModule,
    MatCheckboxModule,
    OrderPanel,
    Panes,
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
  private readonly unsaved = inject(Unsaved);
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'plan', 'findings');
  private readonly banks = viewChild.required(BanksView);
  private readonly store = inject(ProjectStore);
  protected readonly project = atEdge(this.store, 'document', 'devices', 'points', 'pointsOf');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  /** The chosen route, from the address. */
  readonly route = input<string>();

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
  protected readonly together = signal(true);
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
  protected readonly from = computed(() => this.bankOf(this.pair().from, this.sources()));
  protected readonly to = computed(() => this.bankOf(this.pair().to, this.destinations()));
  /** The ends of the route that is looked at or made. */
  protected readonly marked = computed(() => {
    const [started, route] = [this.started(), this.chosenRoute()];
    return {
      source: started?.id ?? route?.sourceId ?? null,
      destination: this.draft()?.destinationId ?? (started ? null : (route?.destinationId ?? null)),
    };
  });
  /** The routes between what is shown of the two. */
  private readonly all = computed(() => {
    const [sources, destinations] = [this.sources(), this.destinations()].map((points) => new Set(points.map(({ id }) => id)));
    return this.project.document()!.routes.filter((route) => sources!.has(route.sourceId) && destinations!.has(route.destinationId));
  });
  private readonly plannedHere = computed(() => {
    const here = new Set(this.all().map(({ id }) => id));
    return this.plan.plan().routes.filter(({ id }) => here.has(id));
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
    return this.all().filter((route) => ids.has(side === 'source' ? route.sourceId : route.destinationId));
  });
  /** The end that was chosen first, while the other is looked for. */
  protected readonly started = signal<Point | null>(null);
  protected readonly draft = signal<Route | null>(null);
  /** Carrying in order, and the first register there where one was pointed at. */
  protected readonly ordering = signal<{ first: Point | null } | null>(null);
  /** Heartbeats between the two are being made. */
  protected readonly beating = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly onlyPair = signal(true);
  protected readonly shownRoutes = computed(() => (this.onlyPair() ? this.all() : this.project.document()!.routes));
  /** Who carries the routes between these two; null where that is Plain Envoy, or not the same for all. */
  protected readonly carrier = computed(() => {
    const carriers = new Set(this.all().map(({ carrierId }) => carrierId));
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
    const carriers = [...new Set(this.all().map(({ carrierId }) => this.who(carrierId)))];
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
  private readonly states = rowsFor(this.feed.routes, () => (this.route() ? [this.route()!] : []));
  /** What became of the chosen route on the bench. */
  protected readonly state = computed(() => {
    const state = this.states().get(this.route() ?? '');
    if (!this.live.running() || !state) return '';
    const failures = state.failures ? `${state.failures} value${state.failures === 1 ? '' : 's'} could not be carried. ` : '';
    return `${failures}${state.reason ?? ''}`;
  });

  constructor() {
    inject(Actions).offer({
      'routes.order': () => this.orderChosen(),
      'routes.beats': () => this.beat(),
      'routes.swap': () => this.exchange(),
      'routes.sheet': () => this.router.navigate(['/handover'], { queryParams: { view: 'requests', of: this.carrier() ?? 'plain-envoy' } }),
    });
  }

  protected orderChosen(): void {
    if (this.chosen().points.length) this.ordering.set({ first: null });
    else this.problem.set('Choose the points to carry first: with Shift and the arrow keys in a bank, or with Shift and a click.');
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

  private bankOf(deviceId: string, points: readonly Point[]): BankOf {
    const has = (this.project.pointsOf().get(deviceId) ?? []).length > 0;
    const nothing = has ? 'No point of this device is left by the filter.' : 'This device has no points yet. Add them in Registers.';
    return { device: this.project.devices().get(deviceId), points, nothing };
  }

  protected choosePair(pair: Partial<{ from: string; to: string }>): void {
    this.pair.update((before) => ({ ...before, ...pair }));
    this.let();
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
  protected join({ side, lifted, on }: { side: Side; lifted: Point; on: Point }): void {
    const { side: chosenSide, points } = this.chosen();
    if (points.length > 1 && chosenSide === side && points.some(({ id }) => id === lifted.id)) {
      this.ordering.set({ first: on });
      return;
    }
    this.let();
    const [source, destination] = side === 'source' ? [lifted, on] : [on, lifted];
    this.started.set(source);
    this.chooseDestination(destination);
  }

  private chooseSource(point: Point): void {
    this.started.set(point);
    this.draft.set(null);
    this.chooseRoute(null);
    this.chosenSources.set(new Set([point.id]));
    this.chosenDestinations.set(none);
    this.banks().focus('destination');
  }

  private chooseDestination(point: Point): void {
    const source = this.started();
    if (!source) {
      const route = this.all().find(({ destinationId }) => destinationId === point.id);
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
    this.banks().focus('source', next?.id);
  }

  protected closeForm(): void {
    this.unsaved.mayLeave().subscribe((may) => {
      if (!may) return;
      this.let();
      this.chooseRoute(null);
    });
  }

  protected closeOrder(): void {
    const { side } = this.chosen();
    this.let();
    this.banks().focus(side);
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
    this.store.commit(`Delete ${what}`, deletion(document, 'route', ...routes.map(({ id }) => id))).subscribe((answer) => {
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
  }
}

/** The points from which these routes start, and those at which they end. */
function endsOf(routes: readonly Route[]): Record<Side, ReadonlySet<string>> {
  return {
    source: new Set(routes.map(({ sourceId }) => sourceId)),
    destination: new Set(routes.map(({ destinationId }) => destinationId)),
  };
}
