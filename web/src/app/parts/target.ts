import { ChangeDetectionStrategy, Component, computed, inject, input, model } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatRadioModule } from '@angular/material/radio';
import type { BenchState } from '@plain-envoy/core/feed';
import type { Target } from '@plain-envoy/core/plan';
import type { Answer } from '../data/api';
import { Editor } from '../data/editor';
import { Hands } from '../data/hands';
import { Live } from '../data/live';
import { atEdge } from '../data/state';
import { textControl } from './controls';
import { typedNumber } from './form';
import { timeText } from './format';
import { settle } from './schema-group';
import { TextField } from './text-field';

/** Where something goes that only reads: to the stand-ins, or to the real plant, which a person allows for a while after seeing who would be asked. */
@Component({
  selector: 'pe-target',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatRadioModule, ReactiveFormsModule, TextField],
  template: `<mat-radio-group aria-label="Where" [value]="on()" (change)="on.set($event.value)">
      <mat-radio-button value="stand-ins">on the stand-ins</mat-radio-button>
      <mat-radio-button value="real">on the real plant</mat-radio-button>
    </mat-radio-group>
    @if (on() === 'real') {
      @if (armedUntil(); as until) {
        <span class="armed">armed until {{ time(until) }}: frames go to the real plant; they only read</span>
        <button mat-button type="button" (click)="disarm()">Disarm</button>
      } @else {
        <form [formGroup]="form" (ngSubmit)="arm()">
          <span class="quiet">{{ asks() }}</span>
          <pe-text label="For so many minutes" name="arm-minutes" numeric formControlName="minutes" />
          <button mat-button type="submit">Ask the real plant</button>
        </form>
      }
    }`,
  styles: `
    :host {
      display: flex;
      gap: 16px;
      align-items: center;
      min-height: 32px;
    }

    mat-radio-group {
      display: flex;
      gap: 12px;
      white-space: nowrap;
    }

    .armed {
      color: var(--pe-bad);
      font-weight: 600;
    }

    form {
      display: flex;
      flex-wrap: wrap;
      align-items: end;
      gap: 4px 12px;
    }

    form .quiet {
      flex: 1 1 300px;
    }

    form pe-text {
      flex: 0 0 150px;
    }
  `,
})
export class TargetPick {
  private readonly hands = inject(Hands);
  private readonly editor = inject(Editor);
  private readonly live = atEdge(inject(Live), 'bench');
  readonly on = model.required<Target>();
  /** Who would be asked on the real plant; a sentence. */
  readonly asks = input.required<string>();

  protected readonly time = timeText;
  /** Until when real devices may be asked; arming for writing includes that. */
  protected readonly armedUntil = computed(() => this.live.bench().armedUntilMs ?? this.live.bench().readingUntilMs);
  protected readonly form = new FormGroup({ minutes: textControl(15) });

  protected arm(): void {
    this.hands.armReading(typedNumber(this.form.getRawValue().minutes)).subscribe((answer) => this.take(answer));
  }

  protected disarm(): void {
    this.hands.disarm().subscribe((answer) => this.take(answer));
  }

  private take(answer: Answer<BenchState>): void {
    if (!settle(this.form, answer)) this.editor.say(answer.problem.message);
  }
}
