import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { Icon } from '../parts/icon';
import { screens } from '../screens/list';

/** The way to each screen, in the order of the work. */
@Component({
  selector: 'pe-rail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Icon, RouterLink, RouterLinkActive],
  template: `<nav aria-label="Screens">
    @for (screen of screens; track screen.path) {
      <a [routerLink]="'/' + screen.path" routerLinkActive="here" ariaCurrentWhenActive="page">
        <pe-icon [name]="screen.icon" />
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
    pe-icon {
      --pe-icon-size: 22px;
    }
  `,
})
export class Rail {
  protected readonly screens = screens;
}
