import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { Change } from '@plain-envoy/core/model';
import { beside, type Beside, fromPapers, mapAsPapers, papersOf } from '@plain-envoy/core/papers';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { ownText, theirsText } from '../../parts/beside';
import { textControl } from '../../parts/controls';
import { focusOnOpen } from '../../parts/focus';
import { textValidator } from '../../parts/schema-group';
import { CellTemplate, type Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import { MapState } from './map-state';

/** A device's map beside its papers: what differs, taken over row by row; and the map as it is, taken as the papers. */
@Component({
  selector: 'pe-papers-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CellTemplate, MatButtonModule, ReactiveFormsModule, Table, TextField],
  template: `<h2>Papers of {{ state.device()?.name }}</h2>
    @if (paper(); as known) {
      <p>
        <b>{{ known.source }}</b>, {{ known.points.length }} points. Proofs judge by them, and its stand-in has their registers.
      </p>
      @if (rows().length) {
        <pe-table label="Where map and papers differ" [columns]="columns" [rows]="rows()" [idOf]="idOf">
          <ng-template peCell="take" let-row>
            @if (row.paper) {
              <button mat-button type="button" title="As the papers have it" (click)="take([row])">{{ row.point ? 'Take' : 'Add' }}</button>
            }
          </ng-template>
        </pe-table>
        @if (takable().length > 1) {
          <div class="actions">
            <button mat-stroked-button type="button" name="take-all" (click)="take(takable())">
              All {{ takable().length }} as in the papers
            </button>
          </div>
        }
      } @else {
        <p class="remark">The map says the same as the papers.</p>
      }
    } @else {
      <p>
        Its papers are not known, so a proof can only say that values arrive, not that they mean what they should. Import the table of its
        manual as its papers, or take the map as it is once it was compared with the manual.
      </p>
    }
    <form [formGroup]="form" (ngSubmit)="keep()">
      <pe-text label="The map was compared with" name="papers-source" formControlName="source" />
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit" name="keep">
          {{ paper() ? 'Take the map as its papers again' : 'Take the map as its papers' }}
        </button>
        @if (others().length) {
          <button mat-stroked-button type="button" name="keep-others" (click)="keepOthers()">
            The same for {{ others().length }} more without papers
          </button>
        }
        @if (paper()) {
          <button mat-button type="button" name="forget" (click)="forget()">Forget the papers</button>
        }
        <button mat-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>`,
  styles: `
    h2 {
      margin: 8px 0;
    }
    form {
      margin-top: 14px;
    }
    .actions {
      margin-top: 10px;
      flex-wrap: wrap;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class PapersPanel {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'points');
  private readonly editor = inject(Editor);
  readonly closed = output();
  protected readonly problem = signal<string | null>(null);
  protected readonly form = new FormGroup({
    source: textControl(
      'The manual',
      textValidator((text) => (text.trim() ? null : 'Say with what.')),
    ),
  });
  protected readonly paper = computed(() => papersOf(this.project.document()!, this.state.deviceId()));
  protected readonly rows = computed(() => beside(this.project.document()!, this.state.deviceId()));
  protected readonly takable = computed(() => this.rows().filter(({ paper }) => paper !== null));
  /** Devices that have a map and no papers yet, but for this one. */
  protected readonly others = computed(() => {
    const document = this.project.document()!;
    const withMap = new Set(document.points.map(({ deviceId }) => deviceId));
    return document.devices.filter(({ id }) => id !== this.state.deviceId() && withMap.has(id) && !papersOf(document, id));
  });
  protected readonly idOf = ({ point, paper }: Beside) => point?.id ?? `in papers ${paper!.name}`;
  protected readonly columns: readonly Column<Beside>[] = [
    { name: 'name', head: 'Point', text: ({ point, paper }) => (point ?? paper)!.name },
    { name: 'says', head: 'The papers say', text: (row) => theirsText(row, this.state.context()) },
    { name: 'has', head: 'The map has', text: (row) => ownText(row, this.state.context()) },
    { name: 'take', head: '' },
  ];

  constructor() {
    focusOnOpen('input[name=papers-source]');
  }

  /** Gives the map what the papers have in these rows. */
  protected take(rows: readonly Beside[]): void {
    const changes = rows.flatMap((row) => fromPapers(row, this.of(this.state.deviceId())) ?? []);
    const [first] = rows;
    this.commit(`${rows.length === 1 ? (first!.point ?? first!.paper)!.name : `${rows.length} points`} as in the papers`, changes);
  }

  protected keep(): void {
    this.keepFor([this.state.deviceId()], `The map of ${this.state.device()?.name} is its papers`);
  }

  protected keepOthers(): void {
    const ids = this.others().map(({ id }) => id);
    this.keepFor(ids, `The maps of ${ids.length} devices are their papers`);
  }

  protected forget(): void {
    const before = this.paper();
    if (before) this.commit(`Forget the papers of ${this.state.device()?.name}`, [{ entity: 'paper', id: before.id, before, after: null }]);
  }

  private keepFor(deviceIds: readonly string[], label: string): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    const document = this.project.document()!;
    const source = this.form.getRawValue().source.trim();
    this.commit(
      label,
      deviceIds.map((deviceId) => mapAsPapers(document, { ...this.of(deviceId), source })),
    );
  }

  private of(deviceId: string) {
    return { deviceId, projectId: this.project.document()!.project.id, newId };
  }

  private commit(label: string, changes: Change[]): void {
    this.store.commit(label, changes).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.editor.say(`${label}. Undo with Ctrl+Z.`);
    });
  }
}
