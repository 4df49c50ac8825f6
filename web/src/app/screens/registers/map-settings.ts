import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { entryNumber, formatAddress } from '@plain-envoy/core/address';
import { Device, fieldSchema } from '@plain-envoy/core/model';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { focusOnOpen } from '../../parts/focus';
import { groupOf, type JsonSchema, type TypedForm, typedOf, valueOf } from '../../parts/schema-fields';
import { problemIn, readGroup, refuseIn, schemaValidator } from '../../parts/schema-group';
import { Unsaved } from '../../parts/unsaved';
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
  imports: [MatButtonModule, ReactiveFormsModule, SchemaForm],
  template: `<h2>How {{ state.device()?.name }} counts</h2>
    <p class="quiet">{{ example() }}</p>
    <form [formGroup]="form()" (ngSubmit)="save()">
      <pe-schema-form [schema]="schema" [group]="form()" [only]="fields" [labels]="labels" [help]="help" [wide]="['notation', 'entry']" />
      @if (problem(); as text) {
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
  protected readonly help = { notation: 'offset', entry: 'offset' } as const;
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
  private readonly check = computed(() => {
    const before = this.state.device()!;
    return { schema: Device, from: (typed: TypedForm) => ({ ...before, ...valueOf(this.schema, typed) }) };
  });
  protected readonly form = computed(() => {
    const form = groupOf(this.schema, typedOf(this.schema, this.state.device()!), fields);
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  /** The first register of the map in its papers, and what is typed into its package for it. */
  protected readonly example = computed(() => {
    const device = this.state.device();
    const point = this.state.focusedPoint() ?? this.state.points()[0];
    if (!device || !point) return '';
    const { table, offset } = point;
    return `${point.name} is ${formatAddress({ table, offset }, device.notation, device.areas)} in its papers, offset ${offset} on the wire, and ${entryNumber(offset, device.entry)} is typed into its package.`;
  });

  constructor() {
    inject(Unsaved).watch(() => `how ${this.state.device()?.name ?? ''} counts`, this.form);
    focusOnOpen();
  }

  protected save(): void {
    const before = this.state.device()!;
    const after = readGroup(this.form(), this.check());
    if (!after) return;
    this.project.commit(`Set how ${before.name} counts`, [{ entity: 'device', id: before.id, before, after }]).subscribe((answer) => {
      if (answer.ok) this.form().markAsPristine();
      if (answer.ok) this.editor.say(`Saved: how ${before.name} counts`);
      else refuseIn(this.form(), answer.problem);
    });
  }
}
