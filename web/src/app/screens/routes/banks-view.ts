import { CdkScrollable, ScrollingModule } from '@angular/cdk/scrolling';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  model,
  output,
  signal,
  untracked,
  viewChild,
  viewChildren,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Device, Point, Route } from '@plain-envoy/core/model';
import { describeRequest } from '@plain-envoy/core/plan';
import { describeChain } from '@plain-envoy/core/steps';
import { merge } from 'rxjs';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { arrowStep } from '../../parts/keys';
import { doubtOn, reasonIn, worstQuality } from '../../parts/quality';
import { Bank, type DroppedPoint } from './bank';
import { bracketPath, bracketsOf, drawnRibbons, faceToFace, isInView, LANE, ribbonPath, ribbonsBetween, windowOf } from './banks';

const GAP_WIDTH = 240;
const SIDES = ['source', 'destination'] as const;
export type Side = (typeof SIDES)[number];

/** Whose points a bank has, and which of them are shown, in register order. */
export interface BankOf {
  device: Device | undefined;
  points: readonly Point[];
  nothing: string;
}

/**
 * The two banks, what is carried face to face, and between them the routes as ribbons and the requests as brackets beside the lanes. Both
 * banks scroll together, or each by itself.
 */
@Component({
  selector: 'pe-banks',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Bank, MatButtonModule, ScrollingModule],
  templateUrl: './banks-view.html',
  styleUrl: './banks-view.scss',
})
export class BanksView {
  private readonly plan = atEdge(inject(PlanStore), 'plan', 'doubts');
  private readonly project = atEdge(inject(ProjectStore), 'document', 'devices', 'points');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running');
  private readonly sourceBank = viewChild.required<Bank>('sourceBank');
  private readonly destinationBank = viewChild.required<Bank>('destinationBank');
  private readonly box = viewChild.required<string, ElementRef<HTMLElement>>('box', { read: ElementRef });
  private readonly sourceBox = viewChild.required<string, ElementRef<HTMLElement>>('sourceBank', { read: ElementRef });
  private readonly destinationBox = viewChild.required<string, ElementRef<HTMLElement>>('destinationBank', { read: ElementRef });
  private readonly scrollers = viewChildren(CdkScrollable);

  readonly from = input.required<BankOf>();
  readonly to = input.required<BankOf>();
  /** The route that is looked at. */
  readonly route = input<string>();
  /** The ends that are looked at, besides those that are chosen. */
  readonly marked = input.required<Record<Side, string | null>>();
  readonly chosenSources = model.required<ReadonlySet<string>>();
  readonly chosenDestinations = model.required<ReadonlySet<string>>();
  /** While a route is being made every point is there, also those without one. */
  readonly isMaking = input(false);
  readonly take = output<{ side: Side; point: Point }>();
  /** A point was dragged from one bank to a lane of the other. */
  readonly joined = output<{ side: Side; lifted: Point; on: Point }>();
  readonly choose = output<Route>();
  readonly remove = output<Route>();

  protected readonly gapWidth = GAP_WIDTH;
  /** Whether both banks scroll together, or each by itself. */
  readonly together = input(true);
  private readonly pair = computed(() => `${this.from().device?.id} ${this.to().device?.id}`);
  protected readonly isFolded = linkedSignal({ source: () => [this.pair(), this.isMaking()], computation: () => !this.isMaking() });
  protected readonly lanes = computed(() =>
    faceToFace(this.project.document()!.routes, this.from().points, this.to().points, this.isFolded()),
  );
  private readonly ribbonsHere = computed(() =>
    ribbonsBetween(this.project.document()!.routes, this.lanes().source, this.lanes().destination),
  );
  protected readonly height = computed(() => Math.max(this.lanes().source.length, this.lanes().destination.length, 1) * LANE);
  protected readonly restText = computed(() => {
    const { source, destination } = this.lanes().rest;
    const of = (count: number, device: Device | undefined) => `${count} of ${device?.name ?? ''}`;
    const parts = [...(source ? [of(source, this.from().device)] : []), ...(destination ? [of(destination, this.to().device)] : [])];
    return this.lanes().routed && parts.length ? `Without a route here: ${parts.join(', ')}` : null;
  });
  /** The lane in which it is said what has no route here. */
  protected readonly restTop = computed(() => this.lanes().routed * LANE);

  /** How far each bank is scrolled, and how high what is seen of it is. */
  private readonly view = signal({ source: 0, destination: 0, height: 400 });
  protected readonly windows = computed(() => {
    const { source, destination, height } = this.view();
    return { source: windowOf(source, height), destination: windowOf(destination, height) };
  });
  /** Where lanes are drawn in the gap: with them, or by how far their bank is scrolled. */
  private readonly shift = computed(() => (this.together() ? { source: 0, destination: 0 } : this.view()));
  private readonly top = computed(() => (this.together() ? this.view().source : 0));
  protected readonly gapHeight = computed(() => (this.together() ? this.height() : this.view().height));
  protected readonly ribbons = computed(() => {
    const points = this.project.points();
    const [shift, top, height] = [this.shift(), this.top(), this.view().height];
    const placed = this.ribbonsHere().map((ribbon) => ({
      ...ribbon,
      fromY: ribbon.fromY - shift.source,
      toY: ribbon.toY - shift.destination,
    }));
    return drawnRibbons(placed, { first: top / LANE, last: (top + height) / LANE - 1 }, this.route()).map((ribbon) => ({
      ...ribbon,
      path: ribbonPath(ribbon, GAP_WIDTH),
      label: describeChain(ribbon.route.transforms),
      far: points.get(ribbon.part === 'arriving' ? ribbon.route.sourceId : ribbon.route.destinationId)?.name ?? '',
    }));
  });
  private readonly plannedHere = computed(() => {
    const here = new Set(this.ribbonsHere().map(({ route }) => route.id));
    return this.plan.plan().routes.filter(({ id }) => here.has(id));
  });
  protected readonly brackets = computed(() => {
    const { requests, endpoints } = this.plan.plan();
    const names = this.project.devices();
    return SIDES.flatMap((side) =>
      bracketsOf(requests, this.plannedHere(), this.lanes()[side], side)
        .filter((bracket) => isInView(bracket, this.windows()[side]))
        .map(({ request, fromY, toY }) => ({
          key: `${side} ${request.id}`,
          path: bracketPath({ request, fromY: fromY - this.shift()[side], toY: toY - this.shift()[side] }, side, GAP_WIDTH),
          text: `${names.get(request.carrierId ?? '')?.name ?? 'Plain Envoy'} ${describeRequest(request, endpoints)}`,
        })),
    );
  });
  /** What became of those that are drawn. */
  protected readonly states = rowsFor(this.feed.routes, () => this.ribbons().map(({ route }) => route.id));

  constructor() {
    const observer = new ResizeObserver(() => this.look());
    effect(() => {
      observer.disconnect();
      observer.observe(this.box().nativeElement);
    });
    effect((onCleanup) => {
      const listening = merge(...this.scrollers().map((scroller) => scroller.elementScrolled())).subscribe(() => this.look());
      onCleanup(() => listening.unsubscribe());
    });
    afterRenderEffect(() => {
      this.together();
      untracked(() => this.look());
    });
    effect(() => {
      this.pair();
      for (const box of [this.box(), this.sourceBox(), this.destinationBox()]) box.nativeElement.scrollTop = 0;
    });
    inject(DestroyRef).onDestroy(() => observer.disconnect());
  }

  /** Why what a ribbon carries is not good, while the bench runs; of a route of which nothing is known yet, that. */
  protected troubleOf(route: Route): string {
    if (!this.live.running()) return '';
    const [state, doubt] = [this.states().get(route.id), doubtOn(this.plan.doubts(), route)];
    const quality = worstQuality([state], doubt) ?? 'not carried yet';
    return quality === 'good' ? '' : [quality, reasonIn([state], doubt)].filter(Boolean).join(': ');
  }

  /** Puts the keyboard on a lane: the one given, else where it was last. */
  focus(side: Side, pointId?: string): void {
    (side === 'source' ? this.sourceBank() : this.destinationBank()).focus(pointId);
  }

  protected unfold(): void {
    this.isFolded.set(false);
  }

  protected turnFold(): void {
    this.isFolded.update((folded) => !folded);
  }

  /** Brings a lane into view. */
  protected reach(side: Side, lane: number): void {
    const box = this.scrollerOf(side);
    const top = lane * LANE;
    if (top < box.scrollTop) box.scrollTop = top;
    else if (top + LANE > box.scrollTop + box.clientHeight) box.scrollTop = top + LANE - box.clientHeight;
    this.look();
  }

  protected drop(side: Side, { point, on }: DroppedPoint): void {
    const other = side === 'source' ? 'destination' : 'source';
    const id = on?.closest(`pe-bank[data-side=${other}] [data-point]`)?.getAttribute('data-point');
    const target = this.project.points().get(id ?? '');
    if (target) this.joined.emit({ side, lifted: point, on: target });
  }

  protected ribbonKey(event: KeyboardEvent, index: number): void {
    const step = arrowStep(event);
    const ribbon = this.ribbons()[index];
    if (step) {
      event.preventDefault();
      const group = (event.currentTarget as Element).parentElement;
      group?.querySelectorAll<SVGElement>('.ribbon')[index + step]?.focus();
    } else if (event.key === 'Enter' && ribbon) {
      this.choose.emit(ribbon.route);
    } else if (event.key === 'Delete' && ribbon) {
      this.remove.emit(ribbon.route);
    }
  }

  private look(): void {
    const [source, destination] = [this.scrollerOf('source'), this.scrollerOf('destination')];
    this.view.set({ source: source.scrollTop, destination: destination.scrollTop, height: this.box().nativeElement.clientHeight });
  }

  private scrollerOf(side: Side): HTMLElement {
    if (this.together()) return this.box().nativeElement;
    return (side === 'source' ? this.sourceBox() : this.destinationBox()).nativeElement;
  }
}
