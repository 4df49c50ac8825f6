import { ChangeDetectionStrategy, Component, input, viewChild } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatSelect, MatSelectModule } from '@angular/material/select';
import type { Option } from './choose';
import { FieldPart } from './field-part';

/** Any of a few, none too: a list that opens and stays open while one ticks. */
@Component({
  selector: 'pe-choose-several',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatFormFieldModule, MatSelectModule],
  template: `<mat-form-field appearance="outline" subscriptSizing="dynamic" floatLabel="always" [title]="hint()">
    <mat-label>{{ label() }}</mat-label>
    <mat-select
      multiple
      panelWidth=""
      [attr.name]="name()"
      [value]="value()"
      [disabled]="isOff()"
      [placeholder]="none()"
      [errorStateMatcher]="whenWrong"
      [aria-label]="aria() || label()"
      (selectionChange)="value.set($event.value)"
      (closed)="left()"
    >
      @for (option of options(); track option.value) {
        <mat-option [value]="option.value" [attr.data-value]="option.value">{{ option.text }}</mat-option>
      }
    </mat-select>
    @if (wrong(); as text) {
      <mat-error>{{ text }}</mat-error>
    }
  </mat-form-field>`,
  styleUrl: './field-part.scss',
})
export class ChooseSeveral<T> extends FieldPart<readonly T[]> {
  protected readonly shown = viewChild(MatSelect);
  readonly options = input.required<readonly Option<T>[]>();
  /** What it means that none is chosen. */
  readonly none = input('');
}
