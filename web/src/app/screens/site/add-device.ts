import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { addDevices, blankDevice, type DeviceTemplate, nextName, readTemplate, templateOf } from '@plain-envoy/core/model';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { FieldProblems, typedNumber } from '../../parts/form';
import { named } from '../../parts/named';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

const MOST = 100;
const blank: DeviceTemplate = {
  format: 'plain-envoy device',
  version: 1,
  device: blankDevice('New device'),
  ports: [],
  points: [],
};

/** One device or many: blank, like one that is there already, or from a file that was saved as a template. */
@Component({
  selector: 'pe-add-device',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, SearchField, TextField],
  template: `<h2>Add devices</h2>
    <form (submit)="$event.preventDefault(); save()">
      <div class="fields">
        <pe-search
          class="wide"
          label="Like"
          name="like"
          none="nothing: a blank device"
          [options]="likeOptions()"
          [value]="likeId()"
          (valueChange)="choose($event)"
        />
        <div class="wide">
          <button mat-stroked-button type="button" (click)="file.click()">From a template file …</button>
          <input #file hidden type="file" name="file" accept="application/json,.json" (change)="read(file.files)" />
          @if (problems.of('file'); as text) {
            <span class="field-problem" role="alert">{{ text }}</span>
          }
        </div>
        <pe-text class="wide" label="Name of the first" name="name" [problem]="problems.of('name')" [(value)]="name" />
        <pe-search label="On the line" name="lineId" none="none yet" [options]="lineOptions()" [(value)]="lineId" />
        <pe-text label="How many" name="count" numeric [problem]="problems.of('count')" [(value)]="count" />
      </div>
      <p class="quiet">{{ forecast() }}</p>
      @if (problems.rest(['file', 'name', 'count']); as text) {
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

  protected readonly problems = new FieldProblems();
  protected readonly fromFile = signal<DeviceTemplate | null>(null);
  protected readonly likeId = signal('');
  protected readonly count = signal('1');
  protected readonly devices = computed(() => this.project.document()!.devices);
  protected readonly lines = computed(() => this.project.document()!.lines);
  protected readonly lineOptions = computed(() => named(this.lines()));
  protected readonly likeOptions = computed(() => {
    const template = this.fromFile();
    const file = template ? [{ value: 'file', text: `${template.device.name}, from the file` }] : [];
    return [...file, ...named(this.devices())];
  });
  private readonly template = computed(() => {
    const id = this.likeId();
    if (id === 'file') return this.fromFile() ?? blank;
    return id && this.project.devices().has(id) ? templateOf(this.project.document()!, id) : blank;
  });
  /** The next name that is free, counted up from that of the template. */
  protected readonly name = linkedSignal(() => {
    const taken = new Set(this.devices().map(({ name }) => name));
    let name = this.template().device.name;
    while (taken.has(name)) name = nextName(name);
    return name;
  });
  protected readonly lineId = linkedSignal(() => {
    const id = this.likeId();
    const { ports, lines } = this.project.document()!;
    return (
      ports.find(({ deviceId }) => deviceId === id)?.lineId ??
      lines.find(({ kind }) => this.template().ports.some((port) => port.kind === kind))?.id ??
      ''
    );
  });
  private readonly planned = computed(() =>
    addDevices(this.project.document()!, {
      template: this.template(),
      name: this.name().trim(),
      lineId: this.lineId() || null,
      count: Math.min(MOST, Math.max(1, Math.floor(typedNumber(this.count())) || 1)),
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
    focusOnOpen();
    effect(() => {
      this.likeId();
      this.problems.clear();
    });
  }

  protected choose(id: string): void {
    this.likeId.set(id);
  }

  protected async read(files: FileList | null): Promise<void> {
    const file = files?.[0];
    if (!file) return;
    const read = readTemplate(await file.text());
    if (!read.ok) return this.problems.set([['file', `${file.name}: ${read.problem.message}`]]);
    this.fromFile.set(read.value);
    this.likeId.set('file');
  }

  protected save(): void {
    const count = typedNumber(this.count());
    if (!Number.isInteger(count) || count < 1 || count > MOST) return this.problems.set([['count', `A whole number from 1 to ${MOST}.`]]);
    if (!this.name().trim()) return this.problems.set([['name', 'A name is needed.']]);
    const planned = this.planned();
    if (!planned.ok) return this.problems.refused({ ...planned.problem, path: ['after', ...planned.problem.path] });
    const label = count === 1 ? `Add ${this.name().trim()}` : `Add ${count} devices like ${this.template().device.name}`;
    this.store.commit(label, planned.value).subscribe((answer) => {
      if (!answer.ok) return this.problems.refused(answer.problem);
      this.editor.say(`${label}. Undo with Ctrl+Z.`);
      void this.router.navigate([], { queryParams: { add: null, device: planned.value[0]!.id } });
    });
  }
}
