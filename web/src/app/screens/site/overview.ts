import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { SiteLayout } from './layout';

const WIDTH = 190;
const HEIGHT = 130;

/** A part of the site, in its own measures. */
export interface Part {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The whole site, small, with what of it is in view; a click or a drag goes there. For plants that do not fit on the screen. */
@Component({
  selector: 'pe-site-overview',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg
    [attr.width]="layout().width * scale()"
    [attr.height]="layout().height * scale()"
    [attr.viewBox]="'0 0 ' + layout().width + ' ' + layout().height"
    role="img"
    aria-label="Overview of the site; the frame is what is in view"
    (pointerdown)="at($event)"
    (pointermove)="$event.buttons && at($event)"
  >
    @for (stave of layout().staves; track stave.line.id) {
      @for (stretch of stave.stretches; track stretch.y) {
        <line [attr.x1]="stretch.from" [attr.x2]="stretch.to" [attr.y1]="stretch.y" [attr.y2]="stretch.y" />
      }
    }
    @for (card of layout().cards; track card.device.id) {
      <rect class="card" [attr.x]="card.x" [attr.y]="card.y" width="136" height="46" />
    }
    <rect class="view" [attr.x]="seen().x" [attr.y]="seen().y" [attr.width]="seen().width" [attr.height]="seen().height" />
  </svg>`,
  styles: `
    :host {
      position: absolute;
      right: 20px;
      bottom: 16px;
      z-index: 2;
      padding: 6px;
      background: var(--mat-sys-surface-container-high);
      border: 1px solid var(--mat-sys-outline-variant);
      border-radius: 4px;
    }
    svg {
      display: block;
      cursor: crosshair;
    }
    line {
      stroke: var(--mat-sys-on-surface);
      stroke-width: 6;
    }
    .card {
      fill: var(--mat-sys-outline);
    }
    .view {
      fill: var(--pe-carried);
      fill-opacity: 0.14;
      stroke: var(--pe-carried);
      stroke-width: 2;
      vector-effect: non-scaling-stroke;
    }
  `,
})
export class SiteOverview {
  readonly layout = input.required<SiteLayout>();
  readonly seen = input.required<Part>();
  /** The middle of what should be in view. */
  readonly goTo = output<{ x: number; y: number }>();

  protected readonly scale = computed(() => Math.min(WIDTH / this.layout().width, HEIGHT / this.layout().height));

  protected at(event: PointerEvent): void {
    this.goTo.emit({ x: event.offsetX / this.scale(), y: event.offsetY / this.scale() });
  }
}
