import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { isBitTable, tableNames } from '@plain-envoy/core/address';
import type { Point } from '@plain-envoy/core/model';

/** A point's table as a shape: circle for a bit, square for a word; outline where it is read only, filled where it can be written. */
@Component({
  selector: 'pe-point-shape',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg width="14" height="14" viewBox="0 0 14 14" role="img" [attr.aria-label]="label()">
    @if (bit()) {
      <circle cx="7" cy="7" r="5" [class.filled]="writable()" />
    } @else {
      <rect x="2.5" y="2.5" width="9" height="9" [class.filled]="writable()" />
    }
  </svg>`,
  styles: `
    :host {
      display: inline-flex;
      vertical-align: middle;
    }
    circle,
    rect {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.6;
    }
    .filled {
      fill: currentColor;
    }
  `,
})
export class PointShape {
  readonly point = input.required<Pick<Point, 'table' | 'access' | 'bit'>>();
  protected readonly bit = computed(() => isBitTable(this.point().table) || this.point().bit !== null);
  protected readonly writable = computed(() => this.point().access !== 'read');
  protected readonly label = computed(
    () =>
      `${this.point().bit === null ? '' : 'bit of a '}${tableNames[this.point().table].one}, ${this.writable() ? 'can be written' : 'read only'}`,
  );
}
