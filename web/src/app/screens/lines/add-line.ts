import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { controlOf, textControl } from '../../parts/controls';
import { MatButtonModule } from '@angular/material/button';
import { blankLine } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { problemIn, readGroup, refuseIn, schemaValidator } from '../../parts/schema-group';
import { Line, lineKinds, mediumOf, type LineKind } from '@plain-envoy/core/media';
import { asOptions, Choose } from '../../parts/choose';
import { TextField } from '../../parts/text-field';

/** A new line: its name and kind; everything else starts as is usual and is set in its form. */
@Component({
  selector: 'pe-add-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, TextField, ReactiveFormsModule],
  template: `<h2>New line</h2>
    <form [formGroup]="form" (ngSubmit)="save()">
      <pe-text label="Name" name="name" formControlName="name" />
      <pe-choose label="Kind" name="kind" formControlName="kind" [options]="kinds" />
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit">Add</button>
        <button mat-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>`,
  styles: `
    pe-text,
    pe-choose {
      margin-top: 10px;
    }
    .actions {
      margin-top: 12px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class AddLine {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  readonly closed = output();
  readonly added = output<string>();
  protected readonly kinds = asOptions(lineKinds, (kind) => mediumOf(kind).label);
  private readonly id = newId();
  private readonly check = {
    schema: Line,
    from: ({ name, kind }: { name: string; kind: LineKind }) =>
      blankLine(kind, { id: this.id, projectId: this.project.document()!.project.id, name: name.trim() }),
  };
  protected readonly form = new FormGroup({ name: textControl(''), kind: controlOf<LineKind>('serial') }, schemaValidator(this.check));
  protected readonly problem = problemIn(() => this.form);

  constructor() {
    focusOnOpen();
  }

  protected save(): void {
    const line = readGroup(this.form, this.check);
    if (!line) return;
    this.store.commit(`Add ${line.name}`, [{ entity: 'line', id: line.id, before: null, after: line }]).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form, answer.problem);
      this.editor.say(`Added: ${line.name}`);
      this.added.emit(line.id);
    });
  }
}
