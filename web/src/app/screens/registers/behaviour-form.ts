import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { type Ask, type Behaviour, choicesFor, type PlayedPoint, writeBehaviour } from '@plain-envoy/core/behaviours';
import { textControl } from '../../parts/controls';
import { focusOnOpen } from '../../parts/focus';
import { typedNumber } from '../../parts/form';
import { refuseIn } from '../../parts/schema-group';
import { SearchField } from '../../parts/search-field';
import { TextField } from '../../parts/text-field';

/** Asks what a behaviour needs to know, and gives the text with its lines in it. */
@Component({
  selector: 'pe-behaviour-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, ReactiveFormsModule, SearchField, TextField],
  template: `<form [formGroup]="form()" (ngSubmit)="write()">
    <p class="quiet">{{ behaviour().says }}</p>
    @for (ask of behaviour().asks; track ask.key) {
      @if (ask.kind === 'point') {
        <pe-search [label]="ask.label" [name]="ask.key" [options]="options().get(ask.key)!" [formControlName]="ask.key" />
      } @else {
        <pe-text numeric [label]="labelOf(ask)" [name]="ask.key" [formControlName]="ask.key" />
      }
    }
    @if (problem(); as text) {
      <p class="problem" role="alert">{{ text }}</p>
    }
    <div class="actions">
      <button mat-flat-button type="submit" name="write">Write the lines</button>
      <button mat-button type="button" (click)="closed.emit()">Not now</button>
    </div>
  </form>`,
  styles: `
    form {
      display: flex;
      flex-direction: column;
      gap: 8px;
    }
    p {
      margin: 0;
    }
    .actions {
      display: flex;
      gap: 8px;
    }
  `,
})
export class BehaviourForm {
  readonly behaviour = input.required<Behaviour>();
  readonly points = input.required<readonly PlayedPoint[]>();
  readonly text = input.required<string>();
  readonly written = output<string>();
  readonly closed = output();

  protected readonly problem = signal<string | null>(null);
  protected readonly form = computed(() => {
    const controls = this.behaviour().asks.map((ask): [string, FormControl<string>] => [
      ask.key,
      textControl(ask.kind === 'point' ? '' : ask.first),
    ]);
    return new FormGroup(Object.fromEntries(controls));
  });

  constructor() {
    focusOnOpen();
  }

  /** What can be chosen for each ask; worked out once for a map, which may have thousands of points. */
  protected readonly options = computed(() => {
    const points = this.points();
    const asks = this.behaviour().asks.filter((ask) => ask.kind === 'point');
    return new Map(asks.map(({ key, wants }) => [key, choicesFor(points, wants).map(({ text, name }) => ({ value: text, text: name }))]));
  });
  private readonly units = computed(() => new Map(choicesFor(this.points(), 'number').map(({ text, unit }) => [text, unit])));

  /** With the unit of the point that it is of. */
  protected labelOf(ask: Ask): string {
    if (ask.kind !== 'value') return ask.label;
    const unit = this.units().get(this.form().controls[ask.of]?.value ?? '');
    return unit ? `${ask.label}, ${unit}` : ask.label;
  }

  protected write(): void {
    const typed = this.form().getRawValue();
    const said = Object.fromEntries(
      this.behaviour().asks.map((ask) => [ask.key, ask.kind === 'point' ? typed[ask.key]! : typedNumber(typed[ask.key]!)]),
    );
    const outcome = writeBehaviour(this.text(), this.behaviour(), this.points(), said);
    if (outcome.ok) return this.written.emit(outcome.value);
    if (outcome.problem.path.length > 0) refuseIn(this.form(), outcome.problem);
    else this.problem.set(outcome.problem.message);
  }
}
