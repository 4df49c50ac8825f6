import { booleanAttribute, ChangeDetectionStrategy, Component, type ElementRef, input, viewChild } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput, MatInputModule } from '@angular/material/input';
import { FieldPart } from './field-part';
import { HelpButton } from './help/help';

/** A line of text, or a number that is typed as text: what does not fit stays as it was typed. */
@Component({
  selector: 'pe-text',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [HelpButton, MatFormFieldModule, MatInputModule],
  template: `<mat-form-field appearance="outline" subscriptSizing="dynamic" [title]="hint()">
    @if (label()) {
      <mat-label>{{ label() }}</mat-label>
    }
    @if (lines() > 0) {
      <textarea
        #box
        matInput
        [name]="name()"
        [rows]="lines()"
        [value]="value()"
        [disabled]="isOff()"
        [errorStateMatcher]="whenWrong"
        [attr.aria-label]="aria() || null"
        (input)="value.set($any($event.target).value)"
        (blur)="left()"
      ></textarea>
    } @else {
      <input
        #box
        matInput
        autocomplete="off"
        [name]="name()"
        [value]="value()"
        [disabled]="isOff()"
        [placeholder]="placeholder()"
        [errorStateMatcher]="whenWrong"
        [attr.inputmode]="numeric() ? 'decimal' : null"
        [attr.aria-label]="aria() || null"
        (input)="value.set($any($event.target).value)"
        (blur)="left()"
      />
    }
    @if (help(); as topic) {
      <pe-help matSuffix [topic]="topic" />
    }
    @if (wrong(); as text) {
      <mat-error>{{ text }}</mat-error>
    } @else if (note()) {
      <mat-hint>{{ note() }}</mat-hint>
    }
  </mat-form-field>`,
  styleUrl: './field-part.scss',
})
export class TextField extends FieldPart<string> {
  protected readonly shown = viewChild(MatInput);
  readonly placeholder = input('');
  /** What it comes to, below it. */
  readonly note = input('');
  readonly numeric = input(false, { transform: booleanAttribute });
  /** So many lines; 0 for one line that takes no other. */
  readonly lines = input(0);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement | HTMLTextAreaElement>>('box');

  focus(): void {
    this.box().nativeElement.focus();
  }
}
