import { booleanAttribute, ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Quality, Reading, RouteState } from '@plain-envoy/core/feed';
import type { Route } from '@plain-envoy/core/model';

/** What is said of how far a value can be trusted: where it was read, on its way, or where it arrived. */
export type Said = Reading | RouteState | undefined;

/** As it is shown: what was read as good may be in doubt, because something is known that speaks against it. */
export type ShownQuality = Quality | 'doubtful';

/** Quality as a word with a shape beside it, never as colour alone; where there is room for the shape alone, the word is said of it. */
@Component({
  selector: 'pe-quality',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@if (isBrief()) {
      <span role="img" [class]="quality() ?? 'none'" [attr.aria-label]="word()">{{ sign() }}</span>
    } @else {
      <span [class]="quality() ?? 'none'"
        ><span aria-hidden="true">{{ sign() }}</span> {{ word() }}</span
      >
    }`,
  styles: `
    .good {
      color: var(--pe-good);
    }
    .sent,
    .limited,
    .doubtful,
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
  readonly quality = input<ShownQuality | null>();
  readonly isBrief = input(false, { transform: booleanAttribute });
  protected readonly sign = computed(() => signs[this.quality() ?? 'none']);
  protected readonly word = computed(() => this.quality() ?? 'not read');
}

const signs = { good: '✓', limited: '≥', sent: '→', doubtful: '?', stale: '…', bad: '✕', none: '–' };

/** A value is as good as the worst that is said of it, and not good while there is a doubt. */
export function worstQuality(said: readonly Said[], doubt: string | undefined): ShownQuality | null {
  const all: (ShownQuality | undefined)[] = said.map((each) => each?.quality);
  if (doubt && all.some(Boolean)) all.push('doubtful');
  return (['bad', 'stale', 'doubtful', 'limited', 'sent', 'good'] as const).find((quality) => all.includes(quality)) ?? null;
}

/** Why it is not good: what failed, else the doubt. */
export function reasonIn(said: readonly Said[], doubt: string | undefined): string {
  const failed = said.filter((each) => each?.quality === 'bad' || each?.quality === 'stale');
  return [...failed.map((each) => each?.reason), doubt, ...said.map((each) => each?.reason)].find(Boolean) ?? '';
}

/** Why what a route carries may be wrong, at one of its ends or on its way; undefined where nothing speaks against it. */
export function doubtOn(doubts: ReadonlyMap<string, string>, { id, sourceId, destinationId }: Route): string | undefined {
  return doubts.get(sourceId) ?? doubts.get(destinationId) ?? doubts.get(id);
}
