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
import { asOptions, Choose, type Option } from '../../parts/choose';
import { TextField } from '../../parts/text-field';

const kinds: Option<TriggerOn['kind']>[] = [
  { value: 'trouble', text: 'anything but a plain answer' },
  { value: 'exception', text: 'an exception' },
  { value: 'value', text: 'a value' },
  { value: 'gap', text: 'nothing asked for' },
];
const actions: Option<TraceTrigger['action']>[] = [
  { value: 'end', text: 'ends' },
  { value: 'begin', text: 'begins' },
];

/** Lets the trace begin or end by itself, at an exception, a value or a gap. */
@Component({
  selector: 'pe-capture-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choose, MatButtonModule, PointPick, TextField],
  template: `<form (submit)="$event.preventDefault(); arm()">
    <pe-choose label="The trace" name="capture-action" [options]="actions" [(value)]="action" />
    <pe-choose label="at" name="capture-on" class="wide" [options]="kinds" [(value)]="kind" />
    @switch (kind()) {
      @case ('exception') {
        <pe-text class="short" label="Code" name="capture-code" placeholder="any" numeric [(value)]="code_" />
      }
      @case ('gap') {
        <pe-text class="short" label="ms" name="capture-gap" numeric [(value)]="gap_" />
      }
      @case ('value') {
        <pe-point-pick class="wide" label="Point" name="capture-point" [devices]="[]" [anywhere]="true" [(value)]="pointId" />
        <pe-choose label="It" name="capture-is" [options]="comparisons" [(value)]="is_" />
        <pe-text label="Value" name="capture-value" [(value)]="value_" />
      }
    }
    @if (action() === 'end') {
      <pe-text label="and so many later" name="capture-after" numeric [(value)]="after_" />
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
    form > * {
      width: 150px;
    }
    form > .wide {
      width: 250px;
    }
    form > .short {
      width: 100px;
    }
    form > :is(button, span) {
      width: auto;
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
  protected readonly actions = actions;
  protected readonly comparisons = asOptions(Comparison.options, (is) => comparisonNames[is]);
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
