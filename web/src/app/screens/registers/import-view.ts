import { atRegister } from '@plain-envoy/core/place';
import { papersOf } from '@plain-envoy/core/papers';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { type Notation, notationNames, type Table, tableNames, tables } from '@plain-envoy/core/address';
import type { ImportEvent, ImportPreview, OfferEvent, PreviewPart, PreviewRow } from '@plain-envoy/core/feed';
import type { MapOptions, RowFate } from '@plain-envoy/core/format';
import type { PlaceOnPage } from '@plain-envoy/core/pages';
import { byteOrders, scaleText } from '@plain-envoy/core/value';
import { type Answer, Api, Refused } from '../../data/api';
import { AttachmentStore } from '../../data/attachments';
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
import type { Subscription } from 'rxjs';
import { Panes } from '../../parts/panes';
import { PdfPage } from '../../parts/pdf-page';
import { ImportWords } from './import-words';

const fates: Record<RowFate, string> = {
  ...{ adds: 'new', changes: 'changes', same: 'as it is' },
  ...{ joins: 'part of it', apart: 'not read', problem: 'left out' },
};

/** A file or pasted text becomes points: how it was understood, what would become of each row, and only then is it written. */
@Component({
  selector: 'pe-import-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, ImportWords, MatButtonModule, MatCheckboxModule, MatProgressBarModule, Panes, PdfPage, TextField],
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
  private readonly attachments = inject(AttachmentStore);
  private readonly editor = inject(Editor);
  /** Text that was pasted into the grid; null to ask for a file. */
  readonly text = input<string | null>(null);
  readonly closed = output();

  protected readonly fates = fates;
  protected readonly fieldOptions: Option<string>[] = [{ value: '', text: 'not read' }, ...asOptions<string>(mapFields)];
  protected readonly tableOptions = asOptions<Table>(tables, (table) => tableNames[table].one);
  protected readonly notationOptions: Option<Notation | ''>[] = [
    { value: '', text: 'found out' },
    ...asOptions(Object.keys(notationNames) as Notation[], (notation) => notationNames[notation]),
  ];
  protected readonly orderOptions = asOptions(byteOrders.filter((order) => order.length === 4));
  protected readonly pasted = signal('');
  protected readonly preview = signal<ImportPreview | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly busy = signal<string | null>(null);
  protected readonly progress = signal<{ done: number; total: number } | null>(null);
  protected readonly onlyProblems = signal(false);
  /** What is taken in is the manual of the device, and becomes its papers: as a rule where nothing is known of it yet. */
  protected readonly isManual = signal(
    this.state.points().length === 0 && papersOf(this.project.document()!, this.state.deviceId()) === undefined,
  );
  private readonly fileName = signal('A pasted table');
  /** What was given as a file; null where it was pasted. */
  private source: File | null = null;
  /** The file, where it has pages that can be shown. */
  protected readonly pages = signal<Blob | null>(null);
  protected readonly place = signal<PlaceOnPage | null>(null);
  private offering: Subscription | null = null;
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
    this.source = file instanceof File ? file : null;
    this.fileName.set(file instanceof File && file.name ? file.name.slice(0, 200) : 'A pasted table');
    this.pages.set(null);
    this.place.set(null);
    const path = `projects/${this.project.document()!.project.id}/devices/${this.state.deviceId()}/imports`;
    this.offering = this.api.stream<OfferEvent>(path, file).subscribe({
      next: (event) => {
        if (event.kind === 'progress') this.progress.set({ done: event.done, total: event.total });
        else if (event.kind === 'failed') this.problem.set(event.sentence);
        else this.show(event.preview, file);
      },
      error: (error: unknown) => this.refused(error),
      complete: () => this.ended(),
    });
  }

  /** Ends the reading of a file. */
  protected stop(): void {
    this.offering?.unsubscribe();
    this.ended();
  }

  protected isLeftOut(part: number): boolean {
    return this.preview()?.options.without.includes(part) ?? false;
  }

  protected take(part: number, isTaken: boolean): void {
    const without = (this.preview()?.options.without ?? []).filter((other) => other !== part);
    this.options({ without: isTaken ? without : [...without, part] });
  }

  protected pagesOf({ pages: [first, last] }: PreviewPart): string {
    return first === last ? `page ${first}` : `pages ${first} to ${last}`;
  }

  protected fieldChosen(index: number, value: string): void {
    const fields = [...(this.preview()?.reading?.fields ?? [])];
    const taken = fields.indexOf(value as MapField);
    if (value && taken >= 0) fields[taken] = null;
    fields[index] = value ? (value as MapField) : null;
    this.options({ fields });
  }

  protected options(changed: Partial<MapOptions>): void {
    const preview = this.preview();
    if (!preview) return;
    this.busy.set('Reading it so …');
    const options = { ...preview.options, ...changed };
    if (options.notation === undefined) delete options.notation;
    this.api.put<ImportPreview>(`imports/${preview.id}`, options).subscribe((answer) => this.taken(answer));
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
          if (this.isManual()) this.keepManual();
          this.closed.emit();
        }
      },
      error: (error: unknown) => this.refused(error),
      complete: () => this.ended(),
    });
  }

  /** The file itself stays with the device. */
  private keepManual(): void {
    const { source } = this;
    if (!source) return;
    this.attachments.add(this.state.deviceId(), source).subscribe((answer) => {
      if (!answer.ok) this.editor.say(`The points were imported; ${source.name} itself is not kept: ${answer.problem.message}`);
    });
  }

  protected close(): void {
    this.offering?.unsubscribe();
    const preview = this.preview();
    if (preview) this.api.delete(`imports/${preview.id}`).subscribe();
    this.closed.emit();
  }

  protected again(): void {
    this.preview.set(null);
    this.problem.set(null);
  }

  /** The point as it would be, in a few words. */
  protected become({ draft }: PreviewRow): string {
    if (!draft) return '';
    const point = { ...draft, id: '', projectId: '', deviceId: '', place: atRegister, releasedBy: null, watchdogMs: null };
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

  private taken(answer: Answer<ImportPreview>): void {
    this.ended();
    if (answer.ok) this.show(answer.value);
    else this.problem.set(answer.problem.message);
  }

  private show(preview: ImportPreview, file?: Blob): void {
    this.preview.set(preview);
    this.problem.set(preview.problem);
    const first = preview.rows.find(({ place }) => place)?.place ?? null;
    if (file) this.pages.set(first && file);
    this.place.update((place) => place ?? first);
  }

  private refused(error: unknown): void {
    this.ended();
    this.problem.set(error instanceof Refused ? error.problem.message : String(error));
  }

  private ended(): void {
    this.busy.set(null);
    this.progress.set(null);
  }
}
