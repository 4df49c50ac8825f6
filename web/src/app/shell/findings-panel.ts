import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { Finding } from '@plain-envoy/core/findings';
import { PlanStore } from '../data/plan';

/** Where each kind of entity is mended. */
const screens: Record<Finding['at']['entity'], string> = {
  route: '/routes',
  round: '/routes',
  point: '/registers',
  device: '/site',
  line: '/lines',
  port: '/lines',
};

/** Every finding with its reason and its mend; choosing one leads to the place where it is mended. */
@Component({
  selector: 'pe-findings-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `<header>
      <h2>Findings</h2>
      <button mat-button type="button" (click)="closed.emit()">Close</button>
    </header>
    @for (finding of plan.findings(); track $index) {
      <button type="button" class="finding" [class.stop]="finding.severity === 'stop'" (click)="go(finding)">
        <strong>{{ finding.severity }}</strong> {{ finding.message }} <span class="quiet">{{ finding.mend }}</span>
      </button>
    } @empty {
      <p class="quiet">Nothing is wrong that can be told from the project.</p>
    }`,
  styles: `
    :host {
      position: fixed;
      top: 48px;
      right: 8px;
      z-index: 20;
      width: 440px;
      max-height: 70vh;
      overflow: auto;
      padding: 8px 12px 12px;
      background: var(--mat-sys-surface-container-high);
      border: 1px solid var(--mat-sys-outline);
      border-radius: 6px;
      box-shadow: 0 6px 24px rgb(0 0 0 / 0.2);
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: center;
    }
    .finding {
      display: block;
      width: 100%;
      font: inherit;
      color: inherit;
      text-align: left;
      margin-top: 6px;
      padding: 8px 10px;
      cursor: pointer;
      background: var(--mat-sys-surface-container-highest);
      border: 0;
      border-left: 3px solid var(--pe-stale);
    }
    .stop {
      background: var(--mat-sys-error-container);
      border-left-color: var(--mat-sys-error);
    }
  `,
  host: { '(keydown.escape)': 'closed.emit()', role: 'dialog', 'aria-label': 'Findings' },
})
export class FindingsPanel {
  private readonly router = inject(Router);
  protected readonly plan = inject(PlanStore);
  readonly closed = output();

  protected go({ at }: Finding): void {
    void this.router.navigate([screens[at.entity]], { queryParams: { [at.entity]: at.id } });
    this.closed.emit();
  }
}
