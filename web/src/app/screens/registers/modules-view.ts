import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { channelsOf, type CouplerChannel, couplerChanges } from '@plain-envoy/core/making';
import { fieldSchema } from '@plain-envoy/core/model';
import { Coupler } from '@plain-envoy/core/modules';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusViewOnOpen } from '../../parts/focus';
import { addressOf } from '../../parts/format';
import { groupOf, type JsonSchema, type TypedForm, typedOf, valueOf } from '../../parts/schema-fields';
import { SchemaForm } from '../../parts/schema-form';
import { problemIn, readGroup, refuseIn, schemaValidator, valueIn } from '../../parts/schema-group';
import { scaleText } from '@plain-envoy/core/value';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { Unsaved } from '../../parts/unsaved';
import { MapState } from './map-state';

const schema = fieldSchema('coupler') as JsonSchema;
const labels = {
  rule: 'The image has',
  align: 'Each module begins with a',
  lowByteFirst: 'The first byte is the low byte of its register',
  inTable: 'Inputs are read as',
  inAt: 'Offset of the inputs',
  outAt: 'Offset of the outputs',
  bitsApart: 'Bits are discrete inputs and coils',
  bitsInAt: 'First discrete input',
  bitsOutAt: 'First coil',
  modules: 'Modules, in slot order',
  inWords: 'Word inputs',
  inBits: 'Bit inputs',
  outWords: 'Word outputs',
  outBits: 'Bit outputs',
  range: 'Its words are',
  rawLow: 'Raw at the low end',
  rawHigh: 'Raw at the high end',
  unitsLow: 'Low end in the plant',
  unitsHigh: 'High end in the plant',
  unit: 'Unit in the plant',
  wireBreak: 'Raw when a wire breaks',
  channels: 'Names of its channels',
};

/** A coupler made of modules: its process image is worked out from them while they are chosen, and its channels become points of the map. */
@Component({
  selector: 'pe-modules-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ReactiveFormsModule, SchemaForm, Table],
  template: `<div class="head">
      <h2>{{ state.device()?.name }}, made of modules</h2>
      <span class="spread"></span>
      <button mat-button type="button" name="back" (click)="closed.emit()">Back to the grid</button>
    </div>
    <div class="both">
      <form class="form" [formGroup]="form()" (ngSubmit)="save()">
        <pe-schema-form [schema]="schema" [group]="form()" [labels]="labels" />
        @if (problem(); as text) {
          <p class="problem" role="alert">{{ text }}</p>
        }
        <div class="actions">
          <button mat-flat-button type="submit" name="make">Make {{ pointCount() }} points of it</button>
        </div>
      </form>
      <div class="image">
        <p class="quiet">{{ sizes() }}</p>
        <pe-table
          scrolls
          label="Channels in the order of the image"
          nothing="Add a module, and say what channels it has."
          [columns]="columns()"
          [rows]="channels()"
          [idOf]="idOf"
        />
      </div>
    </div>`,
  styleUrl: './wide-view.scss',
  styles: `
    .both {
      display: flex;
      flex: 1;
      min-height: 0;
      gap: 16px;
    }
    .form {
      width: 440px;
      flex: none;
      overflow: auto;
      padding-top: 8px;
    }
    .image {
      display: flex;
      flex-direction: column;
      flex: 1;
      min-width: 0;
    }
    .actions {
      margin-top: 12px;
    }
  `,
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class ModulesView {
  protected readonly state = inject(MapState);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  readonly closed = output();

  protected readonly schema = schema;
  protected readonly labels = labels;
  private readonly check = { schema: Coupler, from: (typed: TypedForm) => valueOf(schema, typed) };
  /** Begun anew for each device, and when its modules are set elsewhere. */
  private readonly coupler = computed(() => this.state.device()?.coupler ?? Coupler.parse({}), { equal: isAlike });
  protected readonly form = computed(() => {
    const form = groupOf(schema, typedOf(schema, this.coupler()));
    form.addValidators(schemaValidator(this.check));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  private readonly typed = valueIn(this.form);
  /** The channels as far as what is typed fits. */
  protected readonly channels = computed((): CouplerChannel[] => {
    const read = Coupler.safeParse(this.check.from(this.typed() as TypedForm));
    return read.success ? channelsOf(read.data) : [];
  });
  protected readonly pointCount = computed(() => this.channels().filter(({ point }) => point !== null).length);
  protected readonly sizes = computed(() =>
    (['in', 'out'] as const)
      .map((direction) => {
        const own = this.channels().filter((channel) => channel.direction === direction);
        const last = Math.max(-1, ...own.map(({ byte, bit }) => byte + (bit === null ? 1 : 0)));
        return `${direction === 'in' ? 'Inputs' : 'outputs'}: ${own.length} channels in ${last + 1} bytes`;
      })
      .join('; '),
  );
  protected readonly idOf = ({ direction, byte, bit, name }: CouplerChannel): string => [direction, byte, bit, name].join(' ');
  protected readonly columns = computed((): readonly Column<CouplerChannel>[] => [
    { name: 'direction', head: '', text: ({ direction }) => direction },
    { name: 'byte', head: 'Byte', text: ({ byte, bit }) => (bit === null ? String(byte) : `${byte}.${bit}`), kind: 'mono' },
    { name: 'name', head: 'Channel', text: ({ name }) => name, more: ({ module }) => module },
    {
      ...{ name: 'address', head: 'Address', kind: 'mono' },
      text: ({ point }) => (point ? `${addressOf(point, this.state.device())}${point.bit === null ? '' : `.${point.bit}`}` : ''),
    },
    {
      ...{ name: 'value', head: 'What it is', kind: 'what' },
      text: ({ point, problem }) =>
        problem ??
        [point!.type, scaleText(point!.scale), point!.unit, ...point!.codes.map((code) => `${code.value} ${code.name}`)]
          .filter(Boolean)
          .join(' '),
      classOf: ({ problem }) => (problem ? 'bad' : ''),
    },
  ]);

  constructor() {
    inject(Unsaved).watch(() => `the modules of ${this.state.device()?.name ?? ''}`, this.form);
    focusViewOnOpen();
  }

  protected save(): void {
    const coupler = readGroup(this.form(), this.check);
    const device = this.state.device();
    if (!coupler || !device) return;
    const changes = couplerChanges(this.project.document()!, device, coupler, newId);
    if (changes.length === 0) return this.editor.say('Its points are as its modules say.');
    const points = changes.filter(({ entity }) => entity === 'point').length;
    this.store.commit(`The modules of ${device.name}`, changes).subscribe((answer) => {
      if (!answer.ok) return refuseIn(this.form(), answer.problem);
      this.form().markAsPristine();
      this.editor.say(`${points} points are as the modules of ${device.name} say. Undo with Ctrl+Z.`);
    });
  }
}

function isAlike(one: Coupler, other: Coupler): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}
