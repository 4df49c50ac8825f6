import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  model,
  output,
  signal,
} from '@angular/core';
import { CdkDrag, type CdkDragEnd } from '@angular/cdk/drag-drop';
import { type Device, type Point, rawText, readText } from '@plain-envoy/core/model';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { atEdge } from '../../data/state';
import { addressOf } from '../../parts/format';
import { arrowStep } from '../../parts/keys';
import { PointShape } from '../../parts/point-shape';
import { QualityMark, reasonIn, type ShownQuality, worstQuality } from '../../parts/quality';
import { LANE, type Lanes, type Window } from './banks';

/** A point that was dropped somewhere on the page. */
export interface DroppedPoint {
  point: Point;
  /** What is under the pointer. */
  on: Element | null;
}

/**
 * One bank: a device's points in lanes. Arrow keys go from lane to lane, with Shift they choose several, Enter takes what is chosen.
 * A lane can be dragged. Only the lanes in view are drawn.
 */
@Component({
  selector: 'pe-bank',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, PointShape, QualityMark],
  template: `<ul role="listbox" aria-multiselectable="true" [attr.aria-label]="label()" [style.height.px]="lanes().length * lane">
    @for (row of shown(); track row.point.id) {
      <li
        role="option"
        [attr.data-point]="row.point.id"
        [attr.aria-setsize]="count()"
        [attr.aria-posinset]="row.index + 1"
        [attr.aria-selected]="isChosen(row.point)"
        [class.chosen]="isChosen(row.point)"
        [class.right]="side() === 'destination'"
        [style.top.px]="row.lane * lane"
        [style.height.px]="lane - 3"
        [tabindex]="row.index === tabStop() ? 0 : -1"
        cdkDrag
        (cdkDragEnded)="drop($event, row.point)"
        (click)="press($event, row.point, row.index)"
        (keydown)="key($event, row.point, row.index)"
      >
        <pe-point-shape [point]="row.point" />
        <span class="name" [title]="row.point.name">{{ row.point.name }}</span>
        <span class="mono quiet address">{{ address(row.point) }}</span>
        <span class="mono quiet raw">{{ raw(row.point) }}</span>
        @if (quality(row.point); as unsure) {
          <pe-quality isBrief [quality]="unsure" [title]="reason(row.point)" />
        }
        <span class="mono value" [title]="value(row.point)">{{ value(row.point) }}</span>
      </li>
    } @empty {
      <li class="nothing-yet">{{ nothing() }}</li>
    }
  </ul>`,
  styleUrl: './bank.scss',
  host: { '(document:focusin)': 'noteKeyboard($event)', '(document:pointerdown)': 'noteKeyboard($event)' },
})
export class Bank {
  private readonly live = inject(Live);
  private readonly plan = atEdge(inject(PlanStore), 'doubts');
  private readonly changes = inject(ChangeDetectorRef);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly device = input<Device>();
  readonly lanes = input.required<Lanes>();
  readonly side = input.required<'source' | 'destination'>();
  /** The end of the route that is looked at. */
  readonly marked = input<string | null>(null);
  readonly nothing = input('This device has no points yet. Add them in Registers.');
  /** Which lanes are in view. */
  readonly window = input.required<Window>();
  /** The points that are chosen, to be carried together. */
  readonly chosen = model.required<ReadonlySet<string>>();
  readonly take = output<Point>();
  readonly dropped = output<DroppedPoint>();
  /** The keyboard wants to go on past the last lane. */
  readonly past = output();
  /** A lane that should come into view. */
  readonly reach = output<number>();

  protected readonly lane = LANE;
  protected readonly label = computed(() => `${this.side() === 'source' ? 'From' : 'To'} ${this.device()?.name ?? ''}`);
  private readonly cursor = signal(0);
  private anchor: number | null = null;
  /** The keyboard was put on a lane, and nobody has taken it elsewhere. */
  private hasKeyboard = false;
  protected readonly tabStop = computed(() => Math.min(this.cursor(), Math.max(0, this.points().length - 1)));
  /** The points in their lanes, without those that stay empty. */
  private readonly rows = computed(() =>
    this.lanes()
      .flatMap((point, lane) => (point ? [{ point, lane }] : []))
      .map((row, index) => ({ ...row, index })),
  );
  private readonly points = computed(() => this.rows().map(({ point }) => point));
  protected readonly count = computed(() => this.rows().length);
  protected readonly shown = computed(() => {
    const { first, last } = this.window();
    const rows = this.rows().filter(({ lane }) => lane >= first && lane <= last);
    // The lane that holds the keyboard stays, also when it is scrolled away, and at its place: a lane that is moved among the others
    // is taken out and put in again, and loses the keyboard.
    const held = this.rows()[this.tabStop()];
    if (!held || (held.lane >= first && held.lane <= last)) return rows;
    return held.lane < first ? [held, ...rows] : [...rows, held];
  });

  private readonly readings = rowsFor(this.live.points, () => this.shown().map(({ point }) => point.id));

  constructor() {
    // Lanes that are drawn anew take the keyboard with them when it was on one of them: it is put back.
    afterRenderEffect(() => {
      this.shown();
      if (this.hasKeyboard && document.activeElement === document.body) this.laneAt(this.tabStop())?.focus({ preventScroll: true });
    });
  }

  protected noteKeyboard({ target }: Event): void {
    this.hasKeyboard = target instanceof Node && this.element.nativeElement.contains(target);
  }

  /** Puts the keyboard on a lane: the one given, else where it was last. */
  focus(pointId?: string): void {
    const index = pointId ? this.points().findIndex(({ id }) => id === pointId) : this.tabStop();
    this.goTo(Math.max(0, index));
  }

  protected isChosen(point: Point): boolean {
    return point.id === this.marked() || this.chosen().has(point.id);
  }

  protected address(point: Point): string {
    return addressOf(point, this.device());
  }

  protected raw(point: Point): string {
    return rawText(this.readings().get(point.id)?.words, point);
  }

  protected value(point: Point): string {
    return readText(this.readings().get(point.id)?.words, point);
  }

  /** Said beside a value that is not simply good. */
  protected quality(point: Point): ShownQuality | null {
    const quality = worstQuality([this.readings().get(point.id)], this.plan.doubts().get(point.id));
    return quality === 'good' ? null : quality;
  }

  protected reason(point: Point): string {
    return reasonIn([this.readings().get(point.id)], this.plan.doubts().get(point.id));
  }

  /** Where it was dropped counts; the lane itself stays in its place. */
  protected drop({ source, dropPoint }: CdkDragEnd, point: Point): void {
    source.reset();
    this.dropped.emit({ point, on: document.elementFromPoint(dropPoint.x, dropPoint.y) });
  }

  protected press(event: MouseEvent, point: Point, index: number): void {
    this.cursor.set(index);
    if (event.shiftKey) return this.extend(index);
    this.anchor = index;
    if (event.ctrlKey || event.metaKey) return this.toggle(point);
    this.take.emit(point);
  }

  protected key(event: KeyboardEvent, point: Point, index: number): void {
    const jumps: Record<string, number> = { Home: -index, End: this.points().length, PageDown: 12, PageUp: -12 };
    const step = arrowStep(event) || jumps[event.key];
    if (step) {
      event.preventDefault();
      if (step > 0 && index === this.points().length - 1) this.past.emit();
      const to = Math.max(0, Math.min(this.points().length - 1, index + step));
      if (event.shiftKey) {
        this.anchor ??= index;
        this.extend(to);
      } else {
        this.anchor = null;
      }
      this.goTo(to);
    } else if (event.key === ' ') {
      event.preventDefault();
      this.toggle(point);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      this.take.emit(point);
    } else if (event.key === 'a' && event.ctrlKey) {
      event.preventDefault();
      this.chosen.set(new Set(this.points().map(({ id }) => id)));
    }
  }

  private extend(to: number): void {
    this.anchor ??= this.cursor();
    const [first, last] = [Math.min(this.anchor, to), Math.max(this.anchor, to)];
    this.chosen.set(
      new Set(
        this.points()
          .slice(first, last + 1)
          .map(({ id }) => id),
      ),
    );
  }

  private toggle({ id }: Point): void {
    const next = new Set(this.chosen());
    if (!next.delete(id)) next.add(id);
    this.chosen.set(next);
  }

  private goTo(index: number): void {
    this.cursor.set(index);
    const row = this.rows()[index];
    if (row) this.reach.emit(row.lane);
    // Drawn at once, so that the next key finds the keyboard where this one put it.
    this.changes.detectChanges();
    this.laneAt(index)?.focus({ preventScroll: true });
  }

  private laneAt(index: number): HTMLElement | null {
    return this.element.nativeElement.querySelector(`[data-point="${this.rows()[index]?.point.id}"]`);
  }
}
