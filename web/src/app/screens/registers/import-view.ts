import { papersOf } from '@plain-envoy/core/papers';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { type Notation, notationNames, type Table, tableNames, tables } from '@plain-envoy/core/address';
import type { ImportEvent } from '@plain-envoy/core/feed';
import { type MapReading, type MapRow } from '@plain-envoy/core/format';
import { byteOrders, scaleText } from '@plain-envoy/core/value';
import { type Answer, Api, Refused } from '../../data/api';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusViewOnOpen } from '../../parts/focus';
import { MapState } from './map-state';
import { type MapField, mapFields, cellText } from '@plain-envoy/core/fields';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { TextField } from '../../parts/text-field';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatProgressBarModule } from '@angular/material/progress-bar';

interface Preview {
  id: string;
  what: string;
  /** What a person should know of the file. */
  remarks: readonly string[];
  kind: 'table' | 'points';
  problem: string | null;
  reading: Omit<MapReading, 'rows'> | null;
  total: number;
  rows: Omit<MapRow, 'before'>[];
  problems: Omit<MapRow, 'before'>[];
  options: { fields?: (MapField | null)[]; notation?: Notation; table: string; order: string };
}

const fates = { adds: 'new', changes: 'changes', same: 'as it is', problem: 'left out' } as const;

/** A file or pasted text becomes points: how it was understood, what would become of each row, and only then is it written. */
@Component({
  selector: 'pe-import-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, MatCheckboxModule, MatProgressBarModule, TextField],
  templateUrl: './import-view.html',
  styleUrls: ['./wide-view.scss', './import-view.scss'],
  host: {
    '(keydown.escape)': 'close()',
    '(dragover)': '$event.preventDefault()',
    '(drop)': 'drop($event)',
  },
})
export class ImportView {
  protected readonly state = inject(MapState);
  private readonly api = inject(Api);
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly editor = inject(Editor);
  /** Text that was pasted into the grid; null to ask for a file. */
  readonly text = input<string | null>(null);
  readonly closed = output();

  protected readonly fates = fates;
  protected readonly fieldOptions: Option<string>[] = [{ value: '', text: 'not read' }, ...asOptions<string>(mapFields)];
  protected readonly tableOptions = asOptions<string>(tables, (table) => tableNames[table as Table].one);
  protected readonly notationOptions: Option<Notation | ''>[] = [
    { value: '', text: 'found out' },
    ...asOptions(Object.keys(notationNames) as Notation[], (notation) => notationNames[notation]),
  ];
  protected readonly orderOptions = asOptions<string>(byteOrders.filter((order) => order.length === 4));
  protected readonly pasted = signal('');
  protected readonly preview = signal<Preview | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly busy = signal<string | null>(null);
  protected readonly progress = signal<{ done: number; total: number } | null>(null);
  protected readonly onlyProblems = signal(false);
  /** What is taken in is the manual of the device, and becomes its papers: as a rule where nothing is known of it yet. */
  protected readonly isManual = signal(
    this.state.points().length === 0 && papersOf(this.project.document()!, this.state.deviceId()) === undefined,
  );
  private readonly fileName = signal('A pasted table');
  protected readonly rows = computed(() => (this.onlyProblems() ? this.preview()?.problems : this.preview()?.rows) ?? []);
  protected readonly columns = computed(() => {
    const preview = this.preview();
    const width = Math.min(
      40,
      Math.max(
        preview?.reading?.fields.length ?? 0,
        ...this.rows()
          .slice(0, 50)
          .map(({ cells }) => cells.length),
      ),
    );
    return Array.from({ length: width }, (_, index) => ({
      index,
      head: preview?.reading?.header?.[index] ?? '',
      field: preview?.reading?.fields[index] ?? null,
    }));
  });

  constructor() {
    focusViewOnOpen();
    effect(() => {
      const text = this.text();
      if (text !== null) this.offer(new Blob([text]));
    });
  }

  protected choose(event: Event): void {
    const file = (event.target as HTMLInputElement).files?.[0];
    if (file) this.offer(file);
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    const file = event.dataTransfer?.files[0];
    if (file) this.offer(file);
  }

  protected offerPasted(): void {
    if (this.pasted().trim()) this.offer(new Blob([this.pasted()]));
  }

  protected offer(file: Blob): void {
    this.busy.set('Reading the file …');
    this.problem.set(null);
    this.fileName.set(file instanceof File && file.name ? file.name.slice(0, 200) : 'A pasted table');
    this.api
      .upload<Preview>(`projects/${this.project.document()!.project.id}/devices/${this.state.deviceId()}/imports`, file)
      .subscribe((answer) => this.take(answer));
  }

  protected fieldChosen(index: number, value: string): void {
    const fields = [...(this.preview()?.reading?.fields ?? [])];
    const taken = fields.indexOf(value as MapField);
    if (value && taken >= 0) fields[taken] = null;
    fields[index] = value ? (value as MapField) : null;
    this.options({ fields });
  }

  protected options(changed: Partial<Preview['options']>): void {
    const preview = this.preview();
    if (!preview) return;
    this.busy.set('Reading it so …');
    const options = { ...preview.options, ...changed };
    if (options.notation === undefined) delete options.notation;
    this.api.put<Preview>(`imports/${preview.id}`, options).subscribe((answer) => this.take(answer));
  }

  protected accept(): void {
    const preview = this.preview();
    if (!preview) return;
    this.busy.set('Writing …');
    this.problem.set(null);
    this.api.stream<ImportEvent>(`imports/${preview.id}/accept`, { papersFrom: this.isManual() ? this.fileName() : null }).subscribe({
      next: (event) => {
        if (event.kind === 'progress') this.progress.set(event);
        else if (event.kind === 'failed') this.problem.set(event.sentence);
        else {
          this.editor.say(`Imported: ${event.adds} new, ${event.changes} changed. Ctrl+Z takes all of it back.`);
          this.closed.emit();
        }
      },
      error: (error: unknown) => {
        this.ended();
        this.problem.set(error instanceof Refused ? error.problem.message : String(error));
      },
      complete: () => this.ended(),
    });
  }

  protected close(): void {
    const preview = this.preview();
    if (preview) this.api.delete(`imports/${preview.id}`).subscribe();
    this.closed.emit();
  }

  protected again(): void {
    this.preview.set(null);
    this.problem.set(null);
  }

  /** The point as it would be, in a few words. */
  protected become({ draft }: Omit<MapRow, 'before'>): string {
    if (!draft) return '';
    const point = { ...draft, id: '', projectId: '', deviceId: '', releasedBy: null, watchdogMs: null };
    const parts = [
      cellText(point, 'address', this.state.context()),
      draft.type,
      draft.type === 'bit' ? '' : draft.order,
      scaleText(draft.scale),
      draft.unit,
      cellText(point, 'access', this.state.context()),
    ];
    return `${draft.name}: ${parts.filter(Boolean).join(' ')}`;
  }

  private take(answer: Answer<Preview>): void {
    this.ended();
    if (answer.ok) {
      this.preview.set(answer.value);
      this.problem.set(answer.value.problem);
    } else {
      this.problem.set(answer.problem.message);
    }
  }

  private ended(): void {
    this.busy.set(null);
    this.progress.set(null);
  }
}
