import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Quality } from '@plain-envoy/core/feed';

/** Quality as a word with a shape beside it, never as colour alone. */
@Component({
  selector: 'pe-quality',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<span [class]="quality() ?? 'none'"
    ><span aria-hidden="true">{{ sign[quality() ?? 'none'] }}</span> {{ quality() ?? 'not read' }}</span
  >`,
  styles: `
    .good {
      color: var(--pe-good);
    }
    .sent,
    .limited,
    .stale {
      color: var(--pe-stale);
    }
    .bad {
      color: var(--pe-bad);
      font-weight: 600;
    }
    .none {
      color: var(--mat-sys-on-surface-variant);
    }
  `,
})
export class QualityMark {
  readonly quality = input<Quality | null>();
  protected readonly sign = { good: '✓', limited: '≥', sent: '→', stale: '…', bad: '✕', none: '–' };
}
