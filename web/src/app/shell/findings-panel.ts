import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { Mend } from '@plain-envoy/core/mends';
import type { Finding, Fix } from '@plain-envoy/core/findings';
import { Editor } from '../data/editor';
import { Mends, mendsOf } from '../data/mends';
import { PlanStore } from '../data/plan';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { placeOf } from '../parts/places';

/** Every finding with its reason and its mend; choosing one leads to the place where it is mended. */
@Component({
  selector: 'pe-findings-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [Mends],
  imports: [MatButtonModule],
  template: `<header>
      <h2>Findings</h2>
      <button mat-button type="button" (click)="closed.emit()">Close</button>
    </header>
    @for (finding of plan.findings(); track $index) {
      <div class="finding" [class.stop]="finding.severity === 'stop'">
        <button type="button" class="place" (click)="go(finding)">
          <strong>{{ finding.severity }}</strong> {{ finding.message }} <span class="quiet">{{ finding.mend }}</span>
        </button>
        @for (fix of mendsOf(finding); track fix.label) {
          <div class="fix">
            <button mat-button type="button" class="mend" (click)="mend(finding, fix)">{{ fix.label }}</button>
            <span class="quiet">{{ fix.effect }}</span>
          </div>
        }
      </div>
    } @empty {
      <p class="quiet">Nothing is wrong that can be told from the project.</p>
    }`,
  styles: `
    :host {
      display: block;
      padding: 8px 12px 12px;
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: center;
    }
    .finding {
      margin-top: 6px;
      padding: 8px 10px;
      background: var(--mat-sys-surface-container-highest);
      border-left: 3px solid var(--pe-stale);
    }
    .mend {
      margin: 4px 0 -6px -12px;
    }
    .place {
      display: block;
      width: 100%;
      padding: 0;
      font: inherit;
      color: inherit;
      text-align: left;
      cursor: pointer;
      background: none;
      border: 0;
    }
    .stop {
      background: var(--mat-sys-error-container);
      border-left-color: var(--mat-sys-error);
    }
  `,
})
export class FindingsPanel {
  private readonly router = inject(Router);
  protected readonly plan = atEdge(inject(PlanStore), 'findings');
  private readonly mends = atEdge(inject(Mends), 'tried');
  private readonly project = inject(ProjectStore);
  private readonly editor = inject(Editor);
  readonly closed = output();

  protected mendsOf(finding: Finding): readonly Mend[] {
    return mendsOf(this.mends.tried(), finding);
  }

  /** Mends it in one action, which is undone like any other edit. */
  protected mend({ message }: Finding, { label, changes }: Fix): void {
    this.project
      .commit(label, changes)
      .subscribe((answer) =>
        this.editor.say(answer.ok ? `${label}. Undo with Ctrl+Z.` : `${message} was not mended: ${answer.problem.message}`),
      );
  }

  protected go({ at }: Finding): void {
    const { path, queryParams } = placeOf(at);
    void this.router.navigate([path], { queryParams });
    this.closed.emit();
  }
}
