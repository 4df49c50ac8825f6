import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { textControl } from '../parts/controls';
import { MatButtonModule } from '@angular/material/button';
import { deletion, fieldSchema } from '@plain-envoy/core/model';
import { standards } from '@plain-envoy/core/line';
import { Editor } from '../data/editor';
import { PlanStore } from '../data/plan';
import { ProjectStore } from '../data/project';
import { atEdge } from '../data/state';
import { focusOnOpen } from '../parts/focus';
import { foundAt } from '../parts/form';
import { problemIn, readGroup, refuseIn, schemaValidator } from '../parts/schema-group';
import { Unsaved } from '../parts/unsaved';
import { groupOf, type JsonSchema, type TypedForm, typedOf, valueOf } from '../parts/schema-fields';
import { SchemaForm } from '../parts/schema-form';
import { type Line, Port, type Port as PortRow } from '@plain-envoy/core/media';
import { TextField } from '../parts/text-field';

/** Which fields a port of each kind shows, in the order in which they are read off a device. */
const shown: Record<PortRow['kind'], { title: string; fields: string[] }[]> = {
  ethernet: [
    { title: 'As set on the device', fields: ['ip', 'mask', 'gateway', 'tcpPort', 'unitId', 'framing', 'role', 'leased'] },
    { title: 'Who connects', fields: ['connections', 'otherClients', 'openTransactions', 'standInAddress', 'setHow'] },
  ],
  serial: [
    {
      title: 'As set on the device',
      fields: ['unitId', 'baud', 'dataBits', 'parity', 'stopBits', 'framing', 'levels', 'duplex', 'handshake', 'forwardedUnits', 'setHow'],
    },
    {
      title: 'Wired',
      fields: ['atM', 'stubM', 'unitLoads', 'driverLoads', 'shield', 'reference', 'earthV', 'plug', 'terminated', 'bias', 'isolated'],
    },
  ],
  can: [{ title: 'As set on the device', fields: ['bitrate', 'atM', 'terminated', 'setHow'] }],
  cyclic: [
    { title: 'As set on the device', fields: ['role', 'inputBytes', 'outputBytes', 'inputLabel', 'outputLabel', 'setHow'] },
    { title: 'What its lamps show', fields: ['lampRunning', 'lampNotValid', 'lampOpening', 'lampRefused', 'lampLost'] },
  ],
  telecontrol: [{ title: 'As set on the device', fields: ['address', 'role', 'ip', 'memory', 'staleMs', 'setHow'] }],
};

const labels: Record<string, string> = {
  ip: 'Address',
  tcpPort: 'TCP port',
  unitId: 'Unit ID',
  leased: 'Address by lease',
  forwardedUnits: 'Unit IDs that the gateway passes on; none: all',
  setHow: 'How it is set there',
  standInAddress: 'Its stand-in listens at',
  otherClients: 'Clients besides Plain Envoy',
  openTransactions: 'Open transactions',
  bitrate: 'Bit rate, bit/s',
  inputBytes: 'Input, bytes',
  outputBytes: 'Output, bytes',
  inputLabel: 'Input is called',
  outputLabel: 'Output is called',
  memory: 'Keeps events',
  staleMs: 'Value is old after, ms',
  lampRunning: 'It runs',
  lampNotValid: 'Not valid',
  lampOpening: 'No answer',
  lampRefused: 'Refused',
  lampLost: 'Lost',
  terminated: 'Termination resistor',
  bias: 'Bias resistors',
  isolated: 'Isolated from its earth',
  earthV: 'Local earth, V',
};

/** One port: how it is set on its device, and how it is wired; what was found wrong stands at its field. */
@Component({
  selector: 'pe-port-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ReactiveFormsModule, SchemaForm, TextField],
  template: `<h2>{{ name() }}</h2>
    <p class="quiet">on {{ line().name }}</p>
    <form [formGroup]="form()" (ngSubmit)="save()">
      @for (group of groups(); track group.title) {
        <h3>{{ group.title }}</h3>
        <pe-schema-form
          [schema]="schema()"
          [group]="form()"
          [only]="group.fields"
          [labels]="labels"
          [help]="help"
          [wide]="['setHow', 'lampRunning', 'lampNotValid', 'lampOpening', 'lampRefused', 'lampLost']"
          [found]="found()"
        />
      }
      @if (form().controls['terminals']; as terminals) {
        <h3>Terminals</h3>
        <div class="fields" [formGroup]="$any(terminals)">
          @for (signal of signals(); track signal) {
            <pe-text [label]="signal" [name]="'terminal ' + signal" [formControlName]="signal" />
          }
        </div>
      }
      @if (problem(); as text) {
        <p class="problem" role="alert">{{ text }}</p>
      }
      <div class="actions">
        <button mat-flat-button type="submit">Save</button>
        <button mat-button type="button" (click)="closed.emit()">Close</button>
        <button mat-button type="button" (click)="remove()">Take it off the line</button>
      </div>
    </form>`,
  styles: `
    h2 {
      margin: 8px 0 0;
    }
    p {
      margin: 0;
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
export class PortForm {
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices');
  private readonly editor = inject(Editor);
  private readonly plan = atEdge(inject(PlanStore), 'findings');
  readonly port = input.required<PortRow>();
  readonly line = input.required<Line>();
  readonly closed = output();

  protected readonly labels = labels;
  protected readonly help = { terminated: 'termination', shield: 'shield' } as const;
  protected readonly name = computed(() => this.project.devices().get(this.port().deviceId)?.name ?? '');
  protected readonly schema = computed(() => fieldSchema('port', this.port().kind) as JsonSchema);
  protected readonly groups = computed(() => {
    const port = this.port();
    const asks = port.kind === 'serial' && port.unitId === null;
    return shown[port.kind].map(({ title, fields }) => ({ title, fields: fields.filter((field) => asks || field !== 'forwardedUnits') }));
  });
  protected readonly signals = computed(() => {
    const line = this.line();
    return line.kind === 'serial' ? standards[line.standard].signals : [];
  });
  private readonly check = computed(() => {
    const before = this.port();
    return {
      schema: Port,
      from: (typed: TypedForm) => {
        const value = { ...before, ...valueOf(this.schema(), typed) };
        const terminals = Object.entries((typed['terminals'] as unknown as Record<string, string> | undefined) ?? {});
        return before.kind === 'serial' ? { ...value, terminals: Object.fromEntries(terminals.filter(([, text]) => text.trim())) } : value;
      },
    };
  });
  protected readonly form = computed(() => {
    const port = this.port();
    const fields = this.groups().flatMap((group) => group.fields);
    const form = groupOf(this.schema(), typedOf(this.schema(), port), fields);
    if (port.kind === 'serial' && this.signals().length) {
      const terminals = this.signals().map((signal) => [signal, textControl(port.terminals[signal] ?? '')] as const);
      form.addControl('terminals', new FormGroup(Object.fromEntries(terminals)));
    }
    form.addValidators(schemaValidator(this.check()));
    return form;
  });
  protected readonly problem = problemIn(this.form);
  protected readonly found = computed(() => foundAt(this.plan.findings(), this.port().id));

  constructor() {
    inject(Unsaved).watch(() => `the port of ${this.name()}`, this.form);
    focusOnOpen();
  }

  protected save(): void {
    const before = this.port();
    const after = readGroup(this.form(), this.check());
    if (!after) return;
    this.store
      .commit(`Set ${this.name()} on ${this.line().name}`, [{ entity: 'port', id: before.id, before, after }])
      .subscribe((answer) => {
        if (answer.ok) this.form().markAsPristine();
        if (answer.ok) this.editor.say(`Saved: ${this.name()} on ${this.line().name}`);
        else refuseIn(this.form(), answer.problem);
      });
  }

  protected remove(): void {
    this.store
      .commit(`Take ${this.name()} off ${this.line().name}`, deletion(this.project.document()!, 'port', this.port().id))
      .subscribe((answer) => {
        if (answer.ok) {
          this.editor.say(`${this.name()} is off ${this.line().name}. Undo with Ctrl+Z.`);
          this.form().markAsPristine();
          this.closed.emit();
        } else refuseIn(this.form(), answer.problem);
      });
  }
}
