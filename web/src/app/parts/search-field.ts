import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, linkedSignal, signal, viewChild } from '@angular/core';
import { MatAutocompleteModule, MatAutocompleteTrigger } from '@angular/material/autocomplete';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput, MatInputModule } from '@angular/material/input';
import type { Option } from './choose';
import { FieldPart } from './field-part';

/** So many are shown of those that fit; typing more finds the others. */
const SHOWN = 60;

/**
 * One of many, found by typing parts of its text, in any order: of its name, of its address, of its device. Empty stands for none, where
 * that is allowed. What is typed and chooses nothing gives way to what was chosen before.
 */
@Component({
  selector: 'pe-search',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatFormFieldModule, MatInputModule, MatAutocompleteModule],
  template: `<mat-form-field
    appearance="outline"
    subscriptSizing="dynamic"
    [floatLabel]="none() ? 'always' : 'auto'"
    [title]="hint() || chosenText()"
  >
    @if (label()) {
      <mat-label>{{ label() }}</mat-label>
    }
    <input
      matInput
      autocomplete="off"
      [name]="name()"
      [value]="typed()"
      [disabled]="isOff()"
      [placeholder]="none()"
      [errorStateMatcher]="whenWrong"
      [attr.aria-label]="aria() || null"
      [attr.data-value]="value()"
      [matAutocomplete]="list"
      (focus)="$any($event.target).select()"
      (input)="type($any($event.target).value)"
      (blur)="leave()"
    />
    <span matSuffix class="arrow" aria-hidden="true"></span>
    <mat-autocomplete
      #list
      panelWidth="auto"
      autoActiveFirstOption
      [displayWith]="textOf"
      (optionSelected)="choose($event.option.value)"
      (closed)="end()"
    >
      @for (option of found(); track option.value) {
        <mat-option [value]="option.value" [attr.data-value]="option.value">
          {{ option.text }}
          @if (option.more) {
            <span class="quiet"> · {{ option.more }}</span>
          }
        </mat-option>
      } @empty {
        <mat-option disabled>Nothing is called so.</mat-option>
      }
      @if (more(); as count) {
        <mat-option disabled>{{ count }} more; type what they are called.</mat-option>
      }
    </mat-autocomplete>
    @if (wrong(); as text) {
      <mat-error>{{ text }}</mat-error>
    }
  </mat-form-field>`,
  styleUrl: './field-part.scss',
})
export class SearchField<T extends string | null> extends FieldPart<T> {
  protected readonly shown = viewChild(MatInput);
  readonly options = input.required<readonly Option<T>[]>();
  /** What an empty field stands for, in words; where it is left out, something has to be chosen. */
  readonly none = input('');
  /** The same as a value. */
  readonly nothing = input<T>('' as T);
  private readonly trigger = viewChild.required(MatAutocompleteTrigger);

  protected readonly chosenText = computed(() => this.options().find(({ value }) => value === this.value())?.text ?? '');
  protected readonly typed = linkedSignal(() => this.chosenText());
  private readonly isTyping = signal(false);
  /** Somebody has walked through the list since something was typed, and means the line where he stands. */
  private hasWalked = false;
  private readonly fitting = computed(() => {
    if (!this.isTyping()) return this.options();
    const typed = this.typed().toLowerCase().trim();
    const parts = typed.split(/\s+/);
    const fitting = this.options().filter(({ text, more = '' }) => {
      const all = `${text} ${more}`.toLowerCase();
      return parts.every((part) => all.includes(part));
    });
    // What is called so, or begins so, comes before what has it somewhere.
    const rank = ({ text }: Option<T>) => (text.toLowerCase() === typed ? 0 : text.toLowerCase().startsWith(typed) ? 1 : 2);
    return fitting.sort((a, b) => rank(a) - rank(b));
  });
  protected readonly found = computed(() => this.fitting().slice(0, SHOWN));
  protected readonly more = computed(() => this.fitting().length - this.found().length);
  protected readonly textOf = (value: T): string => this.options().find((option) => option.value === value)?.text ?? '';

  constructor() {
    super();
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    host.addEventListener('keydown', (event) => this.key(event), { capture: true });
  }

  protected type(text: string): void {
    this.hasWalked = false;
    this.typed.set(text);
    this.isTyping.set(true);
  }

  protected choose(value: T): void {
    this.isTyping.set(false);
    this.value.set(value);
    this.typed.set(this.chosenText());
  }

  /** Whoever types fast is ahead of the list, which still has its old first line when Enter comes: what counts is what is typed. */
  private key(event: KeyboardEvent): void {
    if (event.key.startsWith('Arrow')) this.hasWalked = true;
    if (event.key !== 'Enter' || !this.isTyping() || this.hasWalked) return;
    if (this.typed().trim() === '') return this.end();
    const [first] = this.found();
    if (!first) return;
    event.preventDefault();
    event.stopPropagation();
    this.choose(first.value);
    this.trigger().closePanel();
  }

  protected leave(): void {
    this.left();
    if (!this.trigger().panelOpen) this.end();
  }

  protected end(): void {
    const isEmptied = this.isTyping() && this.none() !== '' && this.typed().trim() === '';
    this.isTyping.set(false);
    if (isEmptied) this.value.set(this.nothing());
    this.typed.set(this.chosenText());
  }
}
