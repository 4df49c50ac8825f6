import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { comparisonNames } from '@plain-envoy/core/errand';
import { Comparison } from '@plain-envoy/core/model';
import { type CaptureState, TraceTrigger, type TriggerOn } from '@plain-envoy/core/trace';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { Traces } from '../../data/traces';
import { atEdge } from '../../data/state';
import { typedNumber } from '../../parts/form';
import { PointPick } from '../../parts/point-pick';

const kinds: [TriggerOn['kind'], string][] = [
  ['trouble', 'anything but a plain answer'],
  ['exception', 'an exception'],
  ['value', 'a value'],
  ['gap', 'nothing asked for'],
];

/** Lets the trace begin or end by itself, at an exception, a value or a gap. */
@Component({
  selector: 'pe-capture-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, PointPick],
  template: `<form (submit)="$event.preventDefault(); arm()">
    <label class="field"
      >The trace
      <select #which_ name="capture-action" (change)="action.set($any(which_.value))">
        <option value="end" [selected]="action() === 'end'">ends</option>
        <option value="begin" [selected]="action() === 'begin'">begins</option>
      </select>
    </label>
    <label class="field"
      >at
      <select #which name="capture-on" (change)="kind.set($any(which.value))">
        @for (each of kinds; track each[0]) {
          <option [value]="each[0]" [selected]="each[0] === kind()">{{ each[1] }}</option>
        }
      </select>
    </label>
    @switch (kind()) {
      @case ('exception') {
        <label class="field short"
          >Code
          <input #code name="capture-code" inputmode="numeric" placeholder="any" [value]="code_()" (input)="code_.set(code.value)" />
        </label>
      }
      @case ('gap') {
        <label class="field short"
          >ms <input #gap name="capture-gap" inputmode="numeric" [value]="gap_()" (input)="gap_.set(gap.value)"
        /></label>
      }
      @case ('value') {
        <pe-point-pick
          label="Point"
          name="capture-point"
          [devices]="[]"
          [anywhere]="true"
          [value]="pointId()"
          (valueChange)="pointId.set($event)"
        />
        <label class="field"
          >It
          <select #is name="capture-is" (change)="is_.set($any(is.value))">
            @for (each of comparisons; track each[0]) {
              <option [value]="each[0]" [selected]="each[0] === is_()">{{ each[1] }}</option>
            }
          </select>
        </label>
        <label class="field"
          >Value <input #value name="capture-value" autocomplete="off" [value]="value_()" (input)="value_.set(value.value)"
        /></label>
      }
    }
    @if (action() === 'end') {
      <label class="field short"
        >and so many later
        <input #after name="capture-after" inputmode="numeric" [value]="after_()" (input)="after_.set(after.value)" />
      </label>
    }
    <button mat-flat-button type="submit" [disabled]="!live.running()">Arm it</button>
    @if (capture().state !== 'keeps') {
      <button mat-button type="button" name="capture-off" (click)="send(null)">Keep all again</button>
    }
    @if (problem(); as text) {
      <span class="field-problem" role="alert">{{ text }}</span>
    }
  </form>`,
  styles: `
    form {
      display: flex;
      flex-wrap: wrap;
      align-items: end;
      gap: 6px 10px;
      padding: 4px 16px 8px;
    }
    .short input {
      width: 84px;
    }
  `,
})
export class CaptureForm {
  private readonly project = atEdge(inject(ProjectStore), 'document');
  private readonly traces = inject(Traces);
  protected readonly live = atEdge(inject(Live), 'running');
  readonly capture = input.required<CaptureState>();
  readonly changed = output();

  protected readonly kinds = kinds;
  protected readonly comparisons = Comparison.options.map((is) => [is, comparisonNames[is]] as const);
  protected readonly action = signal<TraceTrigger['action']>('end');
  protected readonly kind = signal<TriggerOn['kind']>('trouble');
  protected readonly code_ = signal('');
  protected readonly gap_ = signal('2000');
  protected readonly pointId = signal<string | null>(null);
  protected readonly is_ = signal<Comparison>('equals');
  protected readonly value_ = signal('');
  protected readonly after_ = signal('200');
  protected readonly problem = signal<string | null>(null);
  private readonly on = computed(() => {
    const code = this.code_().trim() === '' ? null : typedNumber(this.code_());
    const byKind: Record<TriggerOn['kind'], object> = {
      trouble: {},
      exception: { code },
      gap: { ms: typedNumber(this.gap_()) },
      value: { pointId: this.pointId() ?? '', is: this.is_(), value: this.value_() },
    };
    return { kind: this.kind(), ...byKind[this.kind()] };
  });

  protected arm(): void {
    const parsed = TraceTrigger.safeParse({
      on: this.on(),
      action: this.action(),
      after: this.action() === 'end' ? typedNumber(this.after_()) : 0,
    });
    if (!parsed.success) return this.problem.set(parsed.error.issues[0]?.message ?? 'This does not fit.');
    this.send(parsed.data);
  }

  protected send(trigger: TraceTrigger | null): void {
    this.traces.capture(this.project.document()!.project.id, trigger).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.changed.emit();
    });
  }
}
