import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { controlOf, textControl } from '../../parts/controls';
import { MatButtonModule } from '@angular/material/button';
import { deletion, fieldSchema } from '@plain-envoy/core/model';
import { standards } from '@plain-envoy/core/line';
import { Api } from '../../data/api';
import { Editor } from '../../data/editor';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { foundAt } from '../../parts/form';
import { problemIn, readGroup, refuseIn, schemaValidator } from '../../parts/schema-group';
import { Unsaved } from '../../parts/unsaved';
import { groupOf, type JsonSchema, type TypedForm, typedOf, valueOf } from '../../parts/schema-fields';
import { SchemaForm } from '../../parts/schema-form';
import { Line, type Line as LineRow, localEchoes, type SerialLine } from '@plain-envoy/core/media';
import { asOptions, Choose } from '../../parts/choose';
import { TextField } from '../../parts/text-field';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';

const shown: Record<LineRow['kind'], string[]> = {
  ethernet: ['name', 'network', 'note'],
  serial: ['name', 'standard', 'framing', 'baud', 'dataBits', 'parity', 'stopBits', 'lengthM', 'turnaroundMs', 'note'],
  can: ['name', 'bitrate', 'identifierBits', 'lengthM', 'note'],
  cyclic: [
    ...['name', 'inputBytes', 'outputBytes', 'intervalMs', 'missed', 'inputValidByte', 'inputValidValue'],
    ...['outputValidByte', 'outputValidValue', 'whenLost', 'note'],
  ],
  telecontrol: [
    ...[
      'name',
      'standard',
      'tcpPort',
      'listensAt',
      'ownAddress',
      'answersMs',
      'clockEveryMs',
      'selectedMs',
      'eventsEveryMs',
      'allEveryMs',
      'confirmMs',
    ],
    ...['t1Ms', 't2Ms', 't3Ms', 'k', 'w', 'note'],
  ],
};
/** What only one standard of telecontrol has. */
const ofStandard: Partial<Record<string, string[]>> = {
  ieee1815: ['eventsEveryMs', 'allEveryMs', 'confirmMs'],
  'iec60870-5-104': ['t1Ms', 't2Ms', 't3Ms', 'k', 'w'],
};
const cableFields = ['conductorOhmPerKm', 'shieldOhmPerKm', 'crossing', 'repeatersAtM', 'reference'];
const labels = {
  lengthM: 'Length, m',
  turnaroundMs: 'Turnaround after a broadcast, ms',
  bitrate: 'Bit rate, bit/s',
  inputBytes: 'Input, bytes',
  outputBytes: 'Output, bytes',
  intervalMs: 'Every, ms',
  missed: 'Lost after, updates',
  inputValidByte: 'Input valid by byte',
  inputValidValue: 'while that is',
  outputValidByte: 'Output valid by byte',
  outputValidValue: 'while that is',
  whenLost: 'Outputs when lost',
  tcpPort: 'TCP port',
  listensAt: 'Plain Envoy listens at',
  ownAddress: 'Its own address',
  answersMs: 'Answer within, ms',
  clockEveryMs: 'Clocks set every, ms',
  selectedMs: 'Selection holds, ms',
  eventsEveryMs: 'Events asked every, ms',
  allEveryMs: 'Everything every, ms',
  confirmMs: 'Confirmed within, ms',
  t1Ms: 't1, receipt, ms',
  t2Ms: 't2, own receipt, ms',
  t3Ms: 't3, test, ms',
  k: 'k, frames under way',
  w: 'w, frames to a receipt',
  reference: 'Has a reference conductor',
  repeatersAtM: 'Repeaters, at m',
};

/** One line: its settings, its cable with the colours of its wires, and the serial port of this machine that leads to it. */
@Component({
  selector: 'pe-line-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatAutocompleteModule, MatButtonModule, MatFormFieldModule, MatInputModule, ReactiveFormsModule, SchemaForm, TextField],
  template: `<h2>{{ line().name }}</h2>
    <form [formGroup]="form()" (ngSubmit)="save()">
      <pe-schema-form
        [schema]="schema()"
        [group]="form()"
        [only]="fields()"
        [labels]="labels"
        [wide]="['name', 'note']"
        [found]="found()"
      />
      @if (form().controls['cable']; as cable) {
        <h3>Cable</h3>
        <pe-schema-form [schema]="cableSchema" [group]="$any(cable)" [only]="cableFields" [labels]="labels" [found]="found()" />
        <h3>Colours of its wires</h3>
        <div class="fields" [formGroup]="colours()">
          @for (signal of signals(); track signal) {
            <pe-text [label]="signal" [name]="'colour ' + signal" [formControlName]="signal" />
          }
        </div>
        <h3>This machine</h3>
        <div class="fields">
          <mat-form-field appearance="outline" subscriptSizing="dynamic" class="wide">
            <mat-label>{{
              serial()?.framing === 'text' ? 'Serial port, or address:port, that leads to it' : 'Serial port that leads to it'
            }}</mat-label>
            <input matInput name="boundTo" placeholder="none" formControlName="boundTo" [matAutocomplete]="serialPorts" />
            <mat-autocomplete #serialPorts panelWidth="auto">
              @for (found of machine(); track found.path) {
                <mat-option [value]="found.path"
                  >{{ found.path }} <span class="quiet">{{ found.about }}</span></mat-option
                >
              }
            </mat-autocomplete>
          </mat-form-field>
          <pe-choose class="wide" label="Local echo" name="localEcho" [options]="echoes" formControlName="localEcho" />
        </div>
        <p class="quiet">{{ machineText() }} An adapter that hears what it sends itself needs “cut away”.</p>
      }
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit">Save</button>
        <button mat-button type="button" (click)="closed.emit()">Close</button>
        <button mat-button type="button" (click)="remove()">Delete this line</button>
      </div>
    </form>`,
  styles: `
    h2 {
      margin: 8px 0 4px;
    }
    h3 {
      font-size: 13px;
      margin: 14px 0 4px;
    }
    .actions {
      margin-top: 12px;
    }
  `,
  host: { class: 'side-panel', '(keydown.escape)': 'closed.emit()' },
})
export class LineForm {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document');
  private readonly editor = inject(Editor);
  private readonly api = inject(Api);
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  readonly line = input.required<LineRow>();
  readonly closed = output();

  protected readonly labels = labels;
  protected readonly cableFields = cableFields;
  protected readonly cableSchema = fieldSchema('cable') as JsonSchema;
  protected readonly machine = signal<{ path: string; about: string }[]>([]);
  protected readonly schema = computed(() => fieldSchema('line', this.line().kind) as JsonSchema);
  protected readonly fields = computed(() => {
    const line = this.line();
    const foreign =
      line.kind === 'telecontrol'
        ? Object.entries(ofStandard).flatMap(([standard, own]) => (standard === line.standard ? [] : (own ?? [])))
        : [];
    return shown[line.kind].filter((field) => !foreign.includes(field));
  });
  protected readonly serial = computed(() => {
    const line = this.line();
    return line.kind === 'serial' ? line : null;
  });
  protected readonly signals = computed(() => standards[this.serial()!.standard].signals);
  private readonly check = computed(() => {
    const before = this.line();
    return {
      schema: Line,
      from: (typed: TypedForm) => {
        const value = { ...before, ...valueOf(this.schema(), typed) };
        if (before.kind !== 'serial') return value;
        const { cable, boundTo, localEcho } = typed as unknown as SerialTyped;
        const colours = Object.fromEntries(Object.entries(cable.colours).filter(([, text]) => text.trim()));
        const own = { ...before.cable, repeatersAtM: [], ...valueOf(this.cableSchema, cable as unknown as TypedForm), colours };
        return { ...value, cable: own, boundTo: boundTo.trim() || null, localEcho };
      },
    };
  });
  protected readonly form = computed(() => {
    const line = this.line();
    const form = groupOf(this.schema(), typedOf(this.schema(), line), this.fields());
    if (line.kind === 'serial') {
      const cable = groupOf(this.cableSchema, typedOf(this.cableSchema, { ...line.cable }), cableFields);
      const colours = this.signals().map((signal) => [signal, textControl(line.cable.colours[signal] ?? '')] as const);
      cable.addControl('colours', new FormGroup(Object.fromEntries(colours)));
      form.addControl('cable', cable);
      form.addControl('boundTo', textControl(line.boundTo));
      form.addControl('localEcho', controlOf(line.localEcho));
    }
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly colours = computed(() => (this.form().controls['cable'] as FormGroup).controls['colours'] as FormGroup);
  protected readonly problem = problemIn(this.form);
  protected readonly echoes = asOptions(localEchoes);
  protected readonly found = computed(() => foundAt(this.plan.findings(), this.line().id));
  protected readonly machineText = computed(() => {
    const count = this.machine().length;
    return count
      ? `This machine has ${count === 1 ? 'one serial port' : `${count} serial ports`}.`
      : 'This machine shows no serial port; a path can be typed all the same.';
  });

  constructor() {
    inject(Unsaved).watch(() => `the line ${this.line().name}`, this.form);
    focusOnOpen();
    this.api
      .get<{ path: string; about: string }[]>('machine/serial-ports')
      .pipe(takeUntilDestroyed())
      .subscribe((answer) => {
        if (answer.ok) this.machine.set(answer.value);
      });
  }

  protected save(): void {
    const before = this.line();
    const after = readGroup(this.form(), this.check());
    if (!after) return;
    this.store.commit(`Set ${after.name}`, [{ entity: 'line', id: before.id, before, after }]).subscribe((answer) => {
      if (answer.ok) this.form().markAsPristine();
      if (answer.ok) this.editor.say(`Saved: ${after.name}`);
      else refuseIn(this.form(), answer.problem);
    });
  }

  protected remove(): void {
    const changes = deletion(this.project.document()!, 'line', this.line().id);
    this.store.commit(`Delete ${this.line().name}`, changes).subscribe((answer) => {
      if (answer.ok) {
        this.editor.say(`Deleted ${this.line().name} with ${changes.length - 1} ports. Undo with Ctrl+Z.`);
        this.form().markAsPristine();
        this.closed.emit();
      } else refuseIn(this.form(), answer.problem);
    });
  }
}

/** What a serial line has besides the fields of its schema. */
interface SerialTyped {
  cable: { colours: Record<string, string> };
  boundTo: string;
  localEcho: SerialLine['localEcho'];
}
