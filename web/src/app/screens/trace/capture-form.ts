import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { comparisonNames } from '@plain-envoy/core/errand';
import { Comparison } from '@plain-envoy/core/model';
import { type CaptureState, TraceTrigger, type TriggerOn } from '@plain-envoy/core/trace';
import { Live } from '../../data/live';
import { ProjectStore } from '../../data/project';
import { Traces } from '../../data/traces';
import { atEdge } from '../../data/state';
import { controlOf, textControl } from '../../parts/controls';
import { numberOrNone, typedNumber } from '../../parts/form';
import { PointPick } from '../../parts/point-pick';
import { asOptions, Choose, type Option } from '../../parts/choose';
import { settle, problemIn, readGroup, schemaValidator, valueIn } from '../../parts/schema-group';
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
  imports: [Choose, MatButtonModule, PointPick, ReactiveFormsModule, TextField],
  template: `<form [formGroup]="form" (ngSubmit)="arm()">
    <pe-choose label="The trace" name="capture-action" formControlName="action" [options]="actions" />
    <ng-container formGroupName="on">
      <pe-choose label="at" name="capture-on" class="wide" formControlName="kind" [options]="kinds" />
      @switch (typed().on.kind) {
        @case ('exception') {
          <pe-text class="short" label="Code" name="capture-code" placeholder="any" numeric formControlName="code" />
        }
        @case ('gap') {
          <pe-text class="short" label="ms" name="capture-gap" numeric formControlName="ms" />
        }
        @case ('value') {
          <pe-point-pick class="wide" label="Point" name="capture-point" formControlName="pointId" [devices]="[]" [anywhere]="true" />
          <pe-choose label="It" name="capture-is" formControlName="is" [options]="comparisons" />
          <pe-text label="Value" name="capture-value" formControlName="value" />
        }
      }
    </ng-container>
    @if (typed().action === 'end') {
      <pe-text label="and so many later" name="capture-after" numeric formControlName="after" />
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
  protected readonly form = new FormGroup({
    action: controlOf<TraceTrigger['action']>('end'),
    on: new FormGroup({
      kind: controlOf<TriggerOn['kind']>('trouble'),
      code: textControl(''),
      ms: textControl(2000),
      pointId: controlOf<string | null>(null),
      is: controlOf<Comparison>('equals'),
      value: textControl(''),
    }),
    after: textControl(200),
  });
  protected readonly typed = valueIn(() => this.form);
  protected readonly problem = problemIn(() => this.form);
  private readonly check = {
    schema: TraceTrigger,
    from: ({ action, on: { kind, code, ms, pointId, is, value }, after }: ReturnType<CaptureForm['typed']>) => {
      const byKind: Record<TriggerOn['kind'], object> = {
        trouble: {},
        exception: { code: numberOrNone(code) },
        gap: { ms: typedNumber(ms) },
        value: { pointId: pointId ?? '', is, value },
      };
      return { on: { kind, ...byKind[kind] }, action, after: action === 'end' ? typedNumber(after) : 0 };
    },
  };

  constructor() {
    this.form.addValidators(schemaValidator(this.check));
  }

  protected arm(): void {
    const trigger = readGroup(this.form, this.check);
    if (trigger) this.send(trigger);
  }

  protected send(trigger: TraceTrigger | null): void {
    this.traces.capture(this.project.document()!.project.id, trigger).subscribe((answer) => {
      if (settle(this.form, answer)) this.changed.emit();
    });
  }
}
