import {
  afterRenderEffect,
  ChangeDetectorRef,
  computed,
  DestroyRef,
  Directive,
  ElementRef,
  type DoCheck,
  inject,
  input,
  model,
  signal,
  type Signal,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { type AbstractControl, type ControlValueAccessor, NgControl } from '@angular/forms';
import type { Subscription } from 'rxjs';
import { Help } from './help/help';
import { type HelpName, topics } from './help/topics';
import { problemOf } from './schema-group';

/**
 * What the parts of a form have in common: a name and a label, a value that a form control or a component holds, and what is wrong with it
 * in a sentence at its place: said by the component, or by the errors of the control.
 */
@Directive({ host: { '[attr.data-name]': 'name() || null', '(keydown.f1)': 'explain($event)' } })
export abstract class FieldPart<T> implements ControlValueAccessor, DoCheck {
  private readonly control = inject(NgControl, { self: true, optional: true });
  private readonly destroyed = inject(DestroyRef);
  private readonly changes = inject(ChangeDetectorRef);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly helper = inject(Help);
  /** Above the field; where it has none, `aria` says what it is. */
  readonly label = input('');
  readonly aria = input('');
  readonly name = input('');
  /** What is meant, in one sentence, for whoever rests on it. */
  readonly hint = input('');
  /** What a drawing explains better. */
  readonly help = input<HelpName | null>(null);
  readonly problem = input<string | null>(null);
  /** Null until the control or the component that holds it has given it. */
  readonly value = model<T>(null as T);

  protected readonly isOff = signal(false);
  private readonly told = signal<string | null>(null);
  private readonly isChanged = signal(false);
  /** What is told from outside is about the value that was there, so it goes when another is typed into a control. */
  protected readonly wrong = computed(() => this.told() ?? (this.isChanged() ? null : this.problem()));
  /** Shows the error where there is one, whether or not the field was left already. */
  protected readonly whenWrong = { isErrorState: () => this.wrong() !== null };
  private known: AbstractControl | null = null;
  private listening: Subscription | null = null;
  private tell: (value: T) => void = () => undefined;
  /** The control itself gives the value: it is not told of it as if somebody had typed it. */
  private isWritten = false;
  protected left: () => void = () => undefined;

  /** The part of Material that shows it; without a control of its own it looks at its error only when it is told to. */
  protected abstract readonly shown: Signal<{ updateErrorState(): void } | undefined>;

  constructor() {
    // Once it is drawn: before that the part of Material does not know yet what an error is here.
    afterRenderEffect(() => {
      this.wrong();
      this.shown()?.updateErrorState();
      this.changes.markForCheck();
    });
    if (this.control) this.control.valueAccessor = this;
    this.value.subscribe((value) => {
      if (!this.isWritten) this.tell(value);
    });
  }

  /** A form that begins anew gives the field another control. */
  ngDoCheck(): void {
    const control = this.control?.control ?? null;
    if (control === this.known) return;
    this.known = control;
    this.listening?.unsubscribe();
    if (!control) return;
    // Nobody is told that a field is empty before he has been there.
    const look = () => {
      this.told.set(control.touched || control.dirty ? problemOf(control) : null);
      this.isChanged.set(control.dirty);
    };
    look();
    this.listening = control.events.pipe(takeUntilDestroyed(this.destroyed)).subscribe(look);
  }

  /** F1 says what is meant. */
  protected explain(event: Event): void {
    const name = this.help();
    const topic = name ? topics[name] : this.hint() ? { sentence: this.hint(), drawing: null } : null;
    if (!topic) return;
    event.preventDefault();
    event.stopPropagation();
    this.helper.turn(this.element, topic);
  }

  writeValue(value: T): void {
    this.isWritten = true;
    this.value.set(value);
    this.isWritten = false;
  }

  registerOnChange(tell: (value: T) => void): void {
    this.tell = tell;
  }

  registerOnTouched(left: () => void): void {
    this.left = left;
  }

  setDisabledState(isOff: boolean): void {
    this.isOff.set(isOff);
  }
}
