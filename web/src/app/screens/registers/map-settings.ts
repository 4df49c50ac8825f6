import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { entryNumber, formatAddress } from '@plain-envoy/core/address';
import { Device, fieldSchema } from '@plain-envoy/core/model';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { focusOnOpen } from '../../parts/focus';
import { type JsonSchema, typedOf, valueOf } from '../../parts/schema-fields';
import { SchemaForm } from '../../parts/schema-form';
import { MapState } from './map-state';

const fields = [
  'notation',
  'entry',
  'areas',
  'forbidden',
  'readAcrossHoles',
  'functionCodes',
  'maxReadWords',
  'maxReadBits',
  'maxWriteWords',
  'maxWriteBits',
  'writeTimeoutMs',
] as const;

/** How a device's papers and its programming package write addresses: notation, entry rule, areas of its own, what it refuses, and what one request takes. */
@Component({
  selector: 'pe-map-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, SchemaForm],
  template: `<h2>How {{ state.device()?.name }} counts</h2>
    <p class="quiet">{{ example() }}</p>
    <form (submit)="$event.preventDefault(); save()">
      <pe-schema-form
        [schema]="schema"
        [only]="fields"
        [labels]="labels"
        [wide]="['notation', 'entry']"
        [(typed)]="typed"
        [problems]="problems()"
      />
      @if (problems().get('') ?? rest(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit">Save</button>
        <button mat-button type="button" (click)="closed.emit()">Close</button>
      </div>
    </form>`,
  styles: `
    h2 {
      margin: 8px 0;
    }
    .actions,
    .problem {
      margin-top: 12px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class MapSettings {
  protected readonly state = inject(MapState);
  private readonly project = inject(ProjectStore);
  private readonly editor = inject(Editor);
  readonly closed = output();

  protected readonly fields = fields;
  protected readonly labels = {
    notation: 'Its papers write addresses as',
    entry: 'Its programming package takes them',
    areas: 'Areas of its own, such as W for words',
    forbidden: 'Stretches that it refuses to be read across',
    readAcrossHoles: 'Reads may cross registers that no point names',
    functionCodes: 'Function codes that it has (22 writes single bits)',
    maxReadWords: 'Most registers in a read',
    maxReadBits: 'Most bits in a read',
    maxWriteWords: 'Most registers in a write',
    maxWriteBits: 'Most bits in a write',
    writeTimeoutMs: 'Trips when not written for, ms; none: never',
  };
  protected readonly schema = fieldSchema('device') as JsonSchema;
  protected readonly typed = linkedSignal(() => typedOf(this.schema, this.state.device()!));
  protected readonly problems = signal<ReadonlyMap<string, string>>(new Map());
  /** What is wrong in a place that the form does not show. */
  protected readonly rest = computed(
    () => [...this.problems()].find(([path]) => !fields.some((field) => path.startsWith(field)))?.[1] ?? null,
  );
  /** The first register of the map in its papers, and what is typed into its package for it. */
  protected readonly example = computed(() => {
    const device = this.state.device();
    const point = this.state.focusedPoint() ?? this.state.points()[0];
    if (!device || !point) return '';
    const { table, offset } = point;
    return `${point.name} is ${formatAddress({ table, offset }, device.notation, device.areas)} in its papers, offset ${offset} on the wire, and ${entryNumber(offset, device.entry)} is typed into its package.`;
  });

  constructor() {
    focusOnOpen();
  }

  protected save(): void {
    const before = this.state.device()!;
    const value = valueOf(this.schema, this.typed());
    const parsed = Device.safeParse({ ...before, ...Object.fromEntries(fields.map((field) => [field, value[field]])) });
    if (!parsed.success) return this.problems.set(new Map(parsed.error.issues.map(({ path, message }) => [path.join('.'), message])));
    this.project
      .commit(`Set how ${before.name} counts`, [{ entity: 'device', id: before.id, before, after: parsed.data }])
      .subscribe((answer) => {
        if (!answer.ok) return this.problems.set(new Map([['', answer.problem.message]]));
        this.problems.set(new Map());
        this.editor.say(`Saved: how ${before.name} counts`);
      });
  }
}
