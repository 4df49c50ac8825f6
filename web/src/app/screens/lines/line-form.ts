import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { deletion, fieldSchema } from '@plain-envoy/core/model';
import { standards } from '@plain-envoy/core/line';
import { Api } from '../../data/api';
import { Editor } from '../../data/editor';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { focusOnOpen } from '../../parts/focus';
import { FieldProblems } from '../../parts/form';
import { type JsonSchema, type TypedForm, typedOf, valueOf } from '../../parts/schema-fields';
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
  telecontrol: ['name', 'standard', 'note'],
};
const cableFields = ['conductorOhmPerKm', 'shieldOhmPerKm', 'crossing', 'repeatersAtM', 'reference'];
const labels = {
  lengthM: 'Length, m',
  turnaroundMs: 'Turnaround after a broadcast, ms',
  bitrate: 'Bit rate, bit/s',
  reference: 'Has a reference conductor',
  repeatersAtM: 'Repeaters, at m',
};

/** One line: its settings, its cable with the colours of its wires, and the serial port of this machine that leads to it. */
@Component({
  selector: 'pe-line-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatAutocompleteModule, MatButtonModule, MatFormFieldModule, MatInputModule, SchemaForm, TextField],
  template: `<h2>{{ line().name }}</h2>
    <form (submit)="$event.preventDefault(); save()">
      <pe-schema-form
        [schema]="schema()"
        [(typed)]="typed"
        [only]="fields()"
        [labels]="labels"
        [wide]="['name', 'note']"
        [problems]="told()"
      />
      @if (serial(); as serialLine) {
        <h3>Cable</h3>
        <pe-schema-form [schema]="cableSchema" [(typed)]="cable" [only]="cableFields" [labels]="labels" [problems]="told()" />
        <h3>Colours of its wires</h3>
        <div class="fields">
          @for (signal of signals(); track signal) {
            <pe-text
              [label]="signal"
              [name]="'colour ' + signal"
              [value]="colours()[signal] ?? ''"
              (valueChange)="typeColour(signal, $event)"
            />
          }
        </div>
        <h3>This machine</h3>
        <div class="fields">
          <mat-form-field appearance="outline" subscriptSizing="dynamic" class="wide">
            <mat-label>Serial port that leads to it</mat-label>
            <input
              matInput
              #bound
              name="boundTo"
              placeholder="none"
              autocomplete="off"
              [value]="boundTo()"
              [matAutocomplete]="serialPorts"
              (input)="boundTo.set(bound.value)"
            />
            <mat-autocomplete #serialPorts panelWidth="auto" (optionSelected)="boundTo.set($event.option.value)">
              @for (found of machine(); track found.path) {
                <mat-option [value]="found.path"
                  >{{ found.path }} <span class="quiet">{{ found.about }}</span></mat-option
                >
              }
            </mat-autocomplete>
          </mat-form-field>
          <pe-choose class="wide" label="Local echo" name="localEcho" [options]="echoes" [(value)]="localEcho" />
        </div>
        <p class="quiet">{{ machineText() }} An adapter that hears what it sends itself needs “cut away”.</p>
      }
      @if (problems.rest(allFields()); as text) {
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
  protected readonly problems = new FieldProblems();
  protected readonly machine = signal<{ path: string; about: string }[]>([]);
  protected readonly schema = computed(() => fieldSchema('line', this.line().kind) as JsonSchema);
  protected readonly fields = computed(() => shown[this.line().kind]);
  protected readonly allFields = computed(() => [...this.fields(), ...(this.serial() ? cableFields : [])]);
  protected readonly serial = computed(() => {
    const line = this.line();
    return line.kind === 'serial' ? line : null;
  });
  protected readonly signals = computed(() => standards[this.serial()!.standard].signals);
  protected readonly typed = linkedSignal<TypedForm>(() => typedOf(this.schema(), this.line()));
  protected readonly cable = linkedSignal<TypedForm>(() => typedOf(this.cableSchema, { ...this.serial()?.cable }));
  protected readonly colours = linkedSignal<Record<string, string>>(() => this.serial()?.cable.colours ?? {});
  protected readonly boundTo = linkedSignal(() => this.serial()?.boundTo ?? '');
  protected readonly echoes = asOptions(localEchoes);
  protected readonly localEcho = linkedSignal<SerialLine['localEcho']>(() => this.serial()?.localEcho ?? 'none');
  protected readonly told = computed(() => this.problems.orFound(this.plan.findings(), this.line().id));
  protected readonly machineText = computed(() => {
    const count = this.machine().length;
    return count
      ? `This machine has ${count === 1 ? 'one serial port' : `${count} serial ports`}.`
      : 'This machine shows no serial port; a path can be typed all the same.';
  });

  constructor() {
    focusOnOpen();
    effect(() => {
      this.line();
      this.problems.clear();
    });
    this.api
      .get<{ path: string; about: string }[]>('machine/serial-ports')
      .pipe(takeUntilDestroyed())
      .subscribe((answer) => {
        if (answer.ok) this.machine.set(answer.value);
      });
  }

  protected typeColour(signal: string, text: string): void {
    this.colours.update((colours) => ({ ...colours, [signal]: text }));
  }

  protected save(): void {
    const before = this.line();
    const value = { ...before, ...valueOf(this.schema(), this.typed()) };
    const colours = Object.fromEntries(Object.entries(this.colours()).filter(([, text]) => text.trim()));
    const cable = { ...this.serial()?.cable, repeatersAtM: [], ...valueOf(this.cableSchema, this.cable()), colours };
    const after = this.checked(
      this.serial() ? { ...value, cable, boundTo: this.boundTo().trim() || null, localEcho: this.localEcho() } : value,
    );
    if (!after) return;
    this.store.commit(`Set ${after.name}`, [{ entity: 'line', id: before.id, before, after }]).subscribe((answer) => {
      if (answer.ok) this.editor.say(`Saved: ${after.name}`);
      else this.problems.refused(answer.problem);
    });
  }

  protected remove(): void {
    const changes = deletion(this.project.document()!, 'line', this.line().id);
    this.store.commit(`Delete ${this.line().name}`, changes).subscribe((answer) => {
      if (answer.ok) {
        this.editor.say(`Deleted ${this.line().name} with ${changes.length - 1} ports. Undo with Ctrl+Z.`);
        this.closed.emit();
      } else this.problems.refused(answer.problem);
    });
  }

  /** A problem in the cable is told at the cable's own field. */
  private checked(value: unknown): LineRow | null {
    const parsed = Line.safeParse(value);
    if (parsed.success) return this.problems.check(Line, value);
    this.problems.set(
      parsed.error.issues.map(({ path, message }) => [String(path[0] === 'cable' ? path[1] : (path[0] ?? '')), message] as const),
    );
    return null;
  }
}
