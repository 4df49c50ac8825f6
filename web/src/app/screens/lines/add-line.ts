import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { blankLine } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { FieldProblems } from '../../parts/form';
import { Line, lineKinds, mediumOf, type LineKind } from '@plain-envoy/core/media';

/** A new line: its name and kind; everything else starts as is usual and is set in its form. */
@Component({
  selector: 'pe-add-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `<h2>New line</h2>
    <form (submit)="$event.preventDefault(); save()">
      <label class="field"
        >Name
        <input
          #box
          name="name"
          [value]="name()"
          (input)="name.set(box.value)"
          [attr.aria-invalid]="!!problems.of('name')"
          autocomplete="off"
        />
        @if (problems.of('name'); as text) {
          <span class="field-problem" role="alert">{{ text }}</span>
        }
      </label>
      <label class="field"
        >Kind
        <select name="kind" #choice (change)="kind.set($any(choice.value))">
          @for (choice of kinds; track choice.kind) {
            <option [value]="choice.kind">{{ choice.label }}</option>
          }
        </select>
      </label>
      @if (problems.rest(['name']); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit">Add</button>
        <button mat-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>`,
  styles: `
    .field {
      margin-top: 8px;
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
  protected readonly problems = new FieldProblems();
  protected readonly name = signal('');
  protected readonly kinds = lineKinds.map((kind) => ({ kind, label: mediumOf(kind).label }));
  protected readonly kind = signal<LineKind>('serial');

  constructor() {
    focusOnOpen();
  }

  protected save(): void {
    const projectId = this.project.document()!.project.id;
    const line = this.problems.check(Line, blankLine(this.kind(), { id: newId(), projectId, name: this.name().trim() }));
    if (!line) return;
    this.store.commit(`Add ${line.name}`, [{ entity: 'line', id: line.id, before: null, after: line }]).subscribe((answer) => {
      if (!answer.ok) return this.problems.refused(answer.problem);
      this.editor.say(`Added: ${line.name}`);
      this.added.emit(line.id);
    });
  }
}
