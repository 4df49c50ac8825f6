import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatExpansionModule } from '@angular/material/expansion';
import { MatTooltip } from '@angular/material/tooltip';
import { Router, RouterLink } from '@angular/router';
import type { Cause, Diagnosis, TellingTest } from '@plain-envoy/core/diagnose';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { placeOf } from '../../parts/places';

/** Devices that do not do what they should, each with its most probable reason, what speaks for it, and the way to where it is mended. */
@Component({
  selector: 'pe-diagnoses',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatExpansionModule, MatTooltip, RouterLink],
  templateUrl: './diagnoses.html',
  styles: `
    :host {
      display: block;
      flex: none;
      height: 100%;
      overflow: auto;
      margin: 8px 16px 12px;
    }
    article {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      padding: 6px 10px;
      margin-bottom: 6px;
      background: var(--mat-sys-surface-container-lowest);
      border: 1px solid var(--mat-sys-outline-variant);
      border-left: 3px solid var(--pe-bad);
    }
    p {
      margin: 0;
    }
    .actions {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      margin-left: -12px;
      white-space: nowrap;
    }
    ol {
      margin: 0;
      padding-left: 22px;
    }
  `,
})
export class Diagnoses {
  private readonly router = inject(Router);
  private readonly project = inject(ProjectStore);
  private readonly editor = inject(Editor);
  readonly diagnoses = input.required<readonly Diagnosis[]>();

  protected readonly rows = computed(() => this.diagnoses().map((row) => ({ ...row, first: row.causes[0]!, others: row.causes.slice(1) })));
  protected readonly placeOf = placeOf;

  protected percent({ likelihood }: Cause): string {
    return `${Math.round(likelihood * 100)} %`;
  }

  /** Does what would tell the first two reasons apart; an edit is undone like any other. */
  protected tell({ action }: TellingTest): void {
    if (action.kind === 'go') {
      void this.router.navigate([action.path], { queryParams: action.query });
      return;
    }
    this.project
      .commit(action.label, action.changes)
      .subscribe((answer) =>
        this.editor.say(answer.ok ? `${action.label}. Look whether anything changes here; undo with Ctrl+Z.` : answer.problem.message),
      );
  }
}
