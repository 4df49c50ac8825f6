import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';

/** The screens in the order of the work. Icons are single paths on a 24 × 24 field. */
export const rail = [
  { path: '/site', name: 'Site', icon: 'M3 6h18M3 18h18M7 6v5M16 6v12M11 18v-5' },
  { path: '/lines', name: 'Lines', icon: 'M2 14c3-8 5-8 7 0s4 8 7 0 3-5 6-5' },
  { path: '/registers', name: 'Registers', icon: 'M7 4v16M3 8h18M3 13h18M3 18h18M3 4h18' },
  { path: '/routes', name: 'Routes', icon: 'M3 6h5c6 0 3 12 9 12h4M18 15l3 3-3 3M3 18h3' },
  { path: '/rounds', name: 'Rounds', icon: 'M12 4a8 8 0 1 0 8 8M12 4V1M12 4l4 0M12 8v4l3 2' },
  { path: '/bench', name: 'Bench', icon: 'M3 20V9l9-5 9 5v11M8 20v-8h8v8' },
  { path: '/trace', name: 'Trace', icon: 'M3 12h3l2-6 4 12 3-9 2 3h4' },
  { path: '/handover', name: 'Handover', icon: 'M6 3h8l4 4v14H6zM14 3v4h4M9 12h6M9 16h6' },
] as const;

@Component({
  selector: 'pe-rail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RouterLinkActive],
  template: `<nav aria-label="Screens">
    @for (screen of rail; track screen.path) {
      <a [routerLink]="screen.path" routerLinkActive="here" ariaCurrentWhenActive="page">
        <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden="true"><path [attr.d]="screen.icon" /></svg>
        {{ screen.name }}
      </a>
    }
  </nav>`,
  styles: `
    :host {
      width: 76px;
      border-right: 1px solid var(--mat-sys-outline-variant);
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
    path {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.8;
      stroke-linecap: round;
      stroke-linejoin: round;
    }
  `,
})
export class Rail {
  protected readonly rail = rail;
}
