import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { of, switchMap } from 'rxjs';
import { MatButtonModule } from '@angular/material/button';
import { boundLines } from '@plain-envoy/core/plan';
import { plantActs, plantMark } from '@plain-envoy/core/plant';
import { Hands } from '../../data/hands';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Choose, type Option } from '../../parts/choose';
import { TextField } from '../../parts/text-field';
import type { OnEdit } from '@plain-envoy/core/feed';

/** What would be written to the real plant, seen before a person arms it for a while by typing the name of the project. */
@Component({
  selector: 'pe-arm-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, TextField],
  template: `<form (submit)="$event.preventDefault(); run()">
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
      <table class="paper-table" aria-label="What would be written">
        <thead>
          <tr>
            <th>Device</th>
            <th>Way</th>
            <th>What is written</th>
            <th>By</th>
            <th class="number">every ms</th>
          </tr>
        </thead>
        <tbody>
          @for (row of written(); track row.id) {
            <tr>
              <td>{{ row.device }}</td>
              <td class="mono">{{ row.way }}</td>
              <td class="what">{{ row.what }}</td>
              <td>{{ row.by }}</td>
              <td class="mono number">{{ row.periodMs ?? 'when it runs' }}</td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5" class="nothing-yet">Nothing: the plan only reads.</td>
            </tr>
          }
        </tbody>
      </table>
    </div>
    <p class="quiet">{{ acts().length - written().length }} devices are read.</p>
    <div class="actions">
      <pe-text name="arm-word" class="word" [label]="'Type “' + name() + '” to arm it'" [problem]="problem()" [(value)]="word" />
      <pe-text name="arm-minutes" label="For so many minutes" numeric [(value)]="minutes" />
      <pe-choose
        name="arm-on-edit"
        class="word"
        label="When an edit has to be confirmed, the plan"
        [options]="onEdits"
        [(value)]="onEdit"
      />
      <button mat-flat-button type="submit">Arm and run</button>
      <button mat-button type="button" (click)="closed.emit()">Close</button>
    </div>
  </form>`,
  styleUrl: './plant-panel.scss',
  host: { '(keydown.escape)': 'closed.emit()' },
})
export class ArmPanel {
  protected readonly word = signal('');
  protected readonly minutes = signal('15');
  protected readonly onEdit = signal<OnEdit>('goes on');
  protected readonly onEdits: Option<OnEdit>[] = [
    { value: 'goes on', text: 'goes on as it was confirmed' },
    { value: 'stops', text: 'stops' },
  ];
  private readonly hands = inject(Hands);
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly project = atEdge(inject(ProjectStore), 'document');
  readonly closed = output();

  protected readonly problem = signal<string | null>(null);
  protected readonly name = computed(() => this.project.document()!.project.name);
  /** Serial lines on which this machine would ask itself. */
  protected readonly asked = computed(() => boundLines(this.project.document()!));
  protected readonly acts = computed(() => plantActs(this.project.document()!, this.plan.plan()));
  protected readonly written = computed(() =>
    this.acts()
      .filter(({ does }) => does === 'writes')
      .sort((a, b) => a.device.localeCompare(b.device)),
  );

  protected run(): void {
    const [word, minutes, onEdit] = [this.word(), this.minutes(), this.onEdit()];
    this.hands
      .arm({ word, minutes: Number(minutes), mark: plantMark(this.acts()), onEdit })
      .pipe(switchMap((armed) => (armed.ok ? this.hands.runReal() : of(armed))))
      .subscribe((answer) => {
        this.problem.set(answer.ok ? null : answer.problem.message);
        if (answer.ok) this.closed.emit();
      });
  }
}
