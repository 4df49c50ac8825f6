import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import type { Device, Point } from '@plain-envoy/core/model';
import { Live } from '../../data/live';
import { addressOf, valueText } from '../../parts/format';
import { arrowStep } from '../../parts/keys';
import { PointShape } from '../../parts/point-shape';
import { LANE } from './banks';

/** One bank: a device's points in lanes, in register order. Arrow keys go from lane to lane, Enter chooses. */
@Component({
  selector: 'pe-bank',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PointShape],
  template: `<ul role="listbox" [attr.aria-label]="label()">
    @for (point of points(); track point.id; let index = $index) {
      <li
        role="option"
        [attr.data-point]="point.id"
        [attr.aria-selected]="point.id === chosen()"
        [class.chosen]="point.id === chosen()"
        [class.right]="side() === 'destination'"
        [style.height.px]="lane - 4"
        [tabindex]="index === tabStop() ? 0 : -1"
        (click)="choose.emit(point)"
        (keydown)="key($event, point, index)"
      >
        <pe-point-shape [point]="point" />
        <span class="name">{{ point.name }}</span>
        <span class="mono quiet">{{ address(point) }}</span>
        <span class="mono value">{{ value(point) }}</span>
      </li>
    } @empty {
      <li class="nothing-yet">This device has no points yet. Add them in Registers.</li>
    }
  </ul>`,
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      box-sizing: border-box;
      display: flex;
      align-items: center;
      gap: 10px;
      margin-bottom: 4px;
      padding: 0 10px;
      font-size: 13px;
      cursor: pointer;
      white-space: nowrap;
      background: var(--mat-sys-surface-container-lowest);
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 3px;
    }
    li:not(.right) pe-point-shape {
      order: 9;
    }
    li:hover {
      border-color: var(--mat-sys-outline);
    }
    .chosen {
      background: var(--mat-sys-primary-container);
      border-color: var(--pe-carried);
    }
    .name {
      flex: 1;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .value {
      min-width: 72px;
      text-align: right;
      font-weight: 600;
    }
  `,
})
export class Bank {
  private readonly live = inject(Live);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly device = input<Device>();
  readonly points = input.required<readonly Point[]>();
  readonly side = input.required<'source' | 'destination'>();
  readonly chosen = input<string | null>(null);
  readonly choose = output<Point>();

  protected readonly lane = LANE;
  protected readonly label = computed(() => `${this.side() === 'source' ? 'From' : 'To'} ${this.device()?.name ?? ''}`);
  protected readonly tabStop = computed(() =>
    Math.max(
      0,
      this.points().findIndex((point) => point.id === this.chosen()),
    ),
  );

  /** Puts the keyboard on the chosen lane, or on the first. */
  focus(): void {
    this.element.nativeElement.querySelectorAll<HTMLElement>('[role=option]')[this.tabStop()]?.focus();
  }

  protected address(point: Point): string {
    return addressOf(point, this.device());
  }

  protected value(point: Point): string {
    return valueText(this.live.reading(point.id)?.words, point);
  }

  protected key(event: KeyboardEvent, point: Point, index: number): void {
    const step = arrowStep(event);
    if (step) {
      event.preventDefault();
      this.element.nativeElement.querySelectorAll<HTMLElement>('[role=option]')[index + step]?.focus();
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      this.choose.emit(point);
    }
  }
}
