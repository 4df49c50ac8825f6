import { ChangeDetectionStrategy, Component, input, viewChild } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatSelect, MatSelectModule } from '@angular/material/select';
import { FieldPart } from './field-part';
import { HelpButton } from './help/help';

export interface Option<T> {
  value: T;
  text: string;
  /** Said beside it, in quieter letters. */
  more?: string;
}

/** The same words as what they stand for. */
export function asOptions<T extends string | number>(values: readonly T[], wordOf: (value: T) => string = String): Option<T>[] {
  return values.map((value) => ({ value, text: wordOf(value) }));
}

/** One of a few: a list that opens. What is one of many is searched, see `pe-search`. */
@Component({
  selector: 'pe-choose',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [HelpButton, MatFormFieldModule, MatSelectModule],
  template: `<mat-form-field appearance="outline" subscriptSizing="dynamic" [title]="hint()">
    @if (label()) {
      <mat-label>{{ label() }}</mat-label>
    }
    <mat-select
      panelWidth=""
      [attr.name]="name()"
      [value]="value()"
      [disabled]="isOff()"
      [placeholder]="placeholder()"
      [errorStateMatcher]="whenWrong"
      [aria-label]="aria() || label()"
      (selectionChange)="value.set($event.value)"
      (closed)="left()"
    >
      @for (option of options(); track option.value) {
        <mat-option [value]="option.value" [attr.data-value]="option.value">
          {{ option.text }}
          @if (option.more) {
            <span class="quiet"> · {{ option.more }}</span>
          }
        </mat-option>
      }
    </mat-select>
    @if (help(); as topic) {
      <pe-help matSuffix [topic]="topic" />
    }
    @if (wrong(); as text) {
      <mat-error>{{ text }}</mat-error>
    }
  </mat-form-field>`,
  styleUrl: './field-part.scss',
})
export class Choose<T> extends FieldPart<T> {
  protected readonly shown = viewChild(MatSelect);
  readonly options = input.required<readonly Option<T>[]>();
  readonly placeholder = input('');
}
