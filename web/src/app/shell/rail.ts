import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatBadgeModule } from '@angular/material/badge';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { Icon } from '../parts/icon';
import { PlanStore } from '../data/plan';
import { atEdge } from '../data/state';
import { placeOf } from '../parts/places';
import { screens } from '../screens/list';

/** The way to each screen, in the order of the work. */
@Component({
  selector: 'pe-rail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Icon, MatBadgeModule, RouterLink, RouterLinkActive],
  template: `<nav aria-label="Screens">
    @for (screen of screens; track screen.path) {
      <a [routerLink]="'/' + screen.path" routerLinkActive="here" ariaCurrentWhenActive="page">
        @let count = stops().get(screen.path) ?? 0;
        <span
          [matBadge]="count"
          [matBadgeHidden]="!count"
          [matBadgeDescription]="count + (count === 1 ? ' stop' : ' stops')"
          matBadgeSize="medium"
          ><pe-icon [name]="screen.icon"
        /></span>
        {{ screen.name }}
      </a>
    }
  </nav>`,
  styles: `
    :host {
      display: block;
      padding-top: 8px;
    }
    a {
      display: flex;
      flex-direction: column;
      align-items: center;
      gap: 3px;
      padding: 9px 0 8px;
      font-size: 13px;
      text-decoration: none;
      color: var(--mat-sys-on-surface-variant);
      border-left: 3px solid transparent;
    }
    a:hover {
      color: var(--mat-sys-on-surface);
    }
    .here {
      color: var(--mat-sys-on-surface);
      font-weight: 700;
      background: var(--mat-sys-surface-container-highest);
      border-left-color: var(--pe-carried);
    }
    pe-icon {
      --pe-icon-size: 22px;
    }
  `,
})
export class Rail {
  protected readonly screens = screens;
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  /** How many findings that stop something are mended on a screen. */
  protected readonly stops = computed(() => {
    const counts = new Map<string, number>();
    for (const { severity, at } of this.plan.findings()) {
      const path = placeOf(at).path.slice(1);
      if (severity === 'stop') counts.set(path, (counts.get(path) ?? 0) + 1);
    }
    return counts;
  });
}
