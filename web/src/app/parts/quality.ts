import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Quality, Reading, RouteState } from '@plain-envoy/core/feed';

/** What is said of how far a value can be trusted: where it was read, on its way, or where it arrived. */
export type Said = Reading | RouteState | undefined;

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

/** A value is as good as the worst that is said of it. */
export function worstQuality(said: readonly Said[]): Quality | null {
  const all = said.map((each) => each?.quality);
  return (['bad', 'stale', 'limited', 'sent', 'good'] as const).find((quality) => all.includes(quality)) ?? null;
}

export function reasonIn(said: readonly Said[]): string {
  return said.find((each) => each?.reason)?.reason ?? '';
}
