import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { of, switchMap } from 'rxjs';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { boundLines } from '@plain-envoy/core/plan';
import { type PlantAct, plantActs, plantMark } from '@plain-envoy/core/plant';
import { Hands } from '../../data/hands';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import { problemIn, settle } from '../../parts/schema-group';
import type { Column } from '../../parts/table/column';
import { Table } from '../../parts/table/table';
import { TextField } from '../../parts/text-field';
import type { OnEdit } from '@plain-envoy/core/feed';

/** What would be written to the real plant, seen before a person arms it for a while by typing the name of the project. */
@Component({
  selector: 'pe-arm-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, ReactiveFormsModule, Table, TextField],
  template: `<form [formGroup]="form" (ngSubmit)="run()">
    <p>
      <strong>The real plant.</strong> The bench would then write to the addresses and serial ports of the plant itself, to these
      {{ written().length }} places. That and nothing else is what you confirm: an edit that would change it waits until somebody confirms
      it too. After the time it stops by itself.
    </p>
    @for (line of asked(); track line.id) {
      <p>
        On <strong>{{ line.name }}</strong> it asks through {{ line.boundTo }}. Two that ask on one line damage each other’s frames: what
        asks there now has to be silent or unplugged meanwhile.
      </p>
    }
    <div class="list" tabindex="0" role="region" aria-label="What would be written">
      <pe-table
        label="What would be written"
        [columns]="columns"
        [rows]="written()"
        [idOf]="idOf"
        nothing="Nothing: the plan only reads."
      />
    </div>
    <p class="quiet">{{ acts().length - written().length }} devices are read.</p>
    <div class="actions">
      <pe-text name="arm-word" class="word" [label]="'Type “' + name() + '” to arm it'" formControlName="word" />
      <pe-text name="arm-minutes" label="For so many minutes" numeric formControlName="minutes" />
      <pe-choose
        name="arm-on-edit"
        class="word"
        label="When an edit has to be confirmed, the plan"
        formControlName="onEdit"
        [options]="onEdits"
      />
      <button mat-flat-button type="submit">Arm and run</button>
      <button mat-button type="button" (click)="closed.emit()">Close</button>
    </div>
    @if (problem(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }
  </form>`,
  styleUrl: './plant-panel.scss',
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class ArmPanel {
  protected readonly form = new FormGroup({ word: textControl(''), minutes: textControl(15), onEdit: controlOf<OnEdit>('goes on') });
  protected readonly problem = problemIn(() => this.form);
  protected readonly onEdits: Option<OnEdit>[] = [
    { value: 'goes on', text: 'goes on as it was confirmed' },
    { value: 'stops', text: 'stops' },
  ];
  private readonly hands = inject(Hands);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly project = atEdge(inject(ProjectStore), 'document');
  readonly closed = output();

  protected readonly name = computed(() => this.project.document()!.project.name);
  /** Serial lines on which this machine would ask itself. */
  protected readonly asked = computed(() => boundLines(this.project.document()!));
  protected readonly acts = computed(() => plantActs(this.project.document()!, this.plan.plan()));
  protected readonly written = computed(() =>
    this.acts()
      .filter(({ does }) => does === 'writes')
      .sort((a, b) => a.device.localeCompare(b.device)),
  );

  protected readonly idOf = ({ id }: PlantAct): string => id;
  protected readonly columns: readonly Column<PlantAct>[] = [
    { name: 'device', head: 'Device', text: ({ device }) => device, by: ({ device }) => device },
    { name: 'way', head: 'Way', text: ({ way }) => way, kind: 'mono', by: ({ way }) => way },
    { name: 'what', head: 'What is written', text: ({ what }) => what, kind: 'what' },
    { name: 'by', head: 'By', text: ({ by }) => by ?? '', by: ({ by }) => by ?? '' },
    { name: 'period', head: 'every ms', text: ({ periodMs }) => periodMs ?? 'when it runs', kind: 'mono number' },
  ];

  protected run(): void {
    const { word, minutes, onEdit } = this.form.getRawValue();
    this.hands
      .arm({ word, minutes: typedNumber(minutes), mark: plantMark(this.acts()), onEdit })
      .pipe(switchMap((armed) => (armed.ok ? this.hands.runReal() : of(armed))))
      .subscribe((answer) => {
        if (settle(this.form, answer)) this.closed.emit();
      });
  }
}
