import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { FILE_VERSION } from '@plain-envoy/core/common';
import { addDevices, blankDevice, type DeviceTemplate, nextName, templateOf } from '@plain-envoy/core/model';
import { readTemplate } from '@plain-envoy/core/project-file';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Library } from '../../data/library';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { named } from '../../parts/named';
import { forgetRefusals, settle, problemIn, refuseIn, textValidator, valueIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

const MOST = 100;
/** In front of the id of a device of the library, among the devices that one can be like. */
const FROM_LIBRARY = 'library:';
const blank: DeviceTemplate = {
  format: 'plain-envoy device',
  version: FILE_VERSION,
  device: blankDevice('New device'),
  ports: [],
  points: [],
  telegrams: [],
  frames: [],
  papers: null,
};

/** One device or many: blank, like one that is there already, or from a file that was saved as a template. */
@Component({
  selector: 'pe-add-device',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ReactiveFormsModule, SearchField, TextField],
  template: `<h2>Add devices</h2>
    <form [formGroup]="form" (ngSubmit)="save()">
      <div class="fields">
        <pe-search class="wide" label="Like" name="like" none="nothing: a blank device" formControlName="like" [options]="likeOptions()" />
        <div class="wide">
          <button mat-stroked-button type="button" (click)="file.click()">From a template file …</button>
          <input #file hidden type="file" name="file" accept="application/json,.json" (change)="read(file.files)" />
          @if (fileProblem(); as text) {
            <span class="field-problem" role="alert">{{ text }}</span>
          }
        </div>
        <pe-text class="wide" label="Name of the first" name="name" formControlName="name" />
        <pe-search label="On the line" name="lineId" none="none yet" formControlName="lineId" [options]="lineOptions()" />
        <pe-text label="How many" name="count" numeric formControlName="count" />
      </div>
      <p class="quiet">{{ forecast() }}</p>
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit">Add</button>
        <button mat-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>`,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class AddDevice {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices');
  private readonly editor = inject(Editor);
  private readonly router = inject(Router);
  readonly closed = output();

  private readonly libraryStore = inject(Library);
  private readonly library = atEdge(this.libraryStore, 'all');
  protected readonly fromFile = signal<DeviceTemplate | null>(null);
  /** What was fetched from the library, and which of its devices that is. */
  private readonly fromLibrary = signal<{ template: DeviceTemplate; of: { id: string; version: number } } | null>(null);
  protected readonly fileProblem = signal<string | null>(null);
  protected readonly form = new FormGroup({
    like: controlOf(''),
    name: textControl(
      '',
      textValidator((text) => (text.trim() ? null : 'A name is needed.')),
    ),
    lineId: controlOf(''),
    count: textControl(
      1,
      textValidator((text) => (isCount(typedNumber(text)) ? null : `A whole number from 1 to ${MOST}.`)),
    ),
  });
  protected readonly problem = problemIn(() => this.form);
  private readonly typed = valueIn(() => this.form);
  protected readonly devices = computed(() => this.project.document()!.devices);
  protected readonly lines = computed(() => this.project.document()!.lines);
  protected readonly lineOptions = computed(() => named(this.lines()));
  protected readonly likeOptions = computed(() => {
    const template = this.fromFile();
    const file = template ? [{ value: 'file', text: `${template.device.name}, from the file` }] : [];
    const kept = (this.library.all() ?? []).map((row) => ({
      value: `${FROM_LIBRARY}${row.id}`,
      text: `${row.name}, from the library`,
      more: `version ${row.version}, ${row.points} points`,
    }));
    return [...file, ...kept, ...named(this.devices())];
  });
  private readonly template = computed(() => this.templateOf(this.typed().like));
  private readonly planned = computed(() =>
    addDevices(this.project.document()!, {
      template: this.template(),
      name: this.typed().name.trim(),
      lineId: this.typed().lineId || null,
      count: Math.min(MOST, Math.max(1, Math.floor(typedNumber(this.typed().count)) || 1)),
      fromLibrary: this.typed().like.startsWith(FROM_LIBRARY) ? (this.fromLibrary()?.of ?? null) : null,
      newId,
    }),
  );
  protected readonly forecast = computed(() => {
    const planned = this.planned();
    if (!planned.ok) return '';
    const names = planned.value.flatMap(({ entity, after }) => (entity === 'device' ? [String(after!['name'])] : []));
    const places = planned.value.flatMap(({ entity, after }) =>
      entity === 'port'
        ? [
            String(
              after!['unitId'] !== undefined && after!['kind'] === 'serial' ? `unit ${String(after!['unitId'])}` : (after!['ip'] ?? ''),
            ),
          ]
        : [],
    );
    const span = (texts: string[]) => (texts.length > 1 ? `${texts[0]} to ${texts.at(-1)}` : (texts[0] ?? ''));
    const points = planned.value.filter(({ entity }) => entity === 'point').length;
    return [`${span(names)}`, places[0] ? span(places) : '', points ? `${points} points in all` : ''].filter(Boolean).join(' · ');
  });

  constructor() {
    // A list that opens by itself would lie over what else is asked.
    focusOnOpen('input[name=name]');
    this.beginLike('');
    this.form.controls.like.valueChanges
      .pipe(takeUntilDestroyed())
      .subscribe((id) => (id.startsWith(FROM_LIBRARY) ? this.fetch(id) : this.beginLike(id)));
  }

  protected async read(files: FileList | null): Promise<void> {
    const file = files?.[0];
    if (!file) return;
    const read = readTemplate(await file.text());
    this.fileProblem.set(read.ok ? null : `${file.name}: ${read.problem.message}`);
    if (!read.ok) return;
    this.fromFile.set(read.value);
    this.form.controls.like.setValue('file');
  }

  private fetch(like: string): void {
    const row = this.library.all()?.find(({ id }) => like === `${FROM_LIBRARY}${id}`);
    if (!row) return;
    this.libraryStore.get(row).subscribe((answer) => {
      this.fileProblem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok || this.form.getRawValue().like !== like) return;
      this.fromLibrary.set({ template: answer.value, of: { id: row.id, version: row.version } });
      this.beginLike(like);
    });
  }

  protected save(): void {
    forgetRefusals(this.form);
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    const planned = this.planned();
    if (!planned.ok) return refuseIn(this.form, planned.problem);
    const count = typedNumber(this.typed().count);
    const label = count === 1 ? `Add ${this.typed().name.trim()}` : `Add ${count} devices like ${this.template().device.name}`;
    this.store.commit(label, planned.value).subscribe((answer) => {
      if (!settle(this.form, answer)) return;
      this.editor.say(`${label}. Undo with Ctrl+Z.`);
      void this.router.navigate([], { queryParams: { add: null, device: planned.value[0]!.id } });
    });
  }

  /** The next name that is free, counted up from that of the template, and a line of its kind. */
  private beginLike(id: string): void {
    const { devices, ports, lines } = this.project.document()!;
    const template = this.templateOf(id);
    const taken = new Set(devices.map(({ name }) => name));
    let name = template.device.name;
    while (taken.has(name)) name = nextName(name);
    const like = ports.find(({ deviceId }) => deviceId === id)?.lineId;
    const lineId = like ?? lines.find(({ kind }) => template.ports.some((port) => port.kind === kind))?.id ?? '';
    this.form.patchValue({ name, lineId });
  }

  private templateOf(id: string): DeviceTemplate {
    if (id === 'file') return this.fromFile() ?? blank;
    if (id.startsWith(FROM_LIBRARY)) return this.fromLibrary()?.template ?? blank;
    return id && this.project.devices().has(id) ? templateOf(this.project.document()!, id) : blank;
  }
}

function isCount(count: number): boolean {
  return Number.isInteger(count) && count >= 1 && count <= MOST;
}
