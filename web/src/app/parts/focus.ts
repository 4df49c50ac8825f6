import { afterEveryRender, afterNextRender, ElementRef, inject } from '@angular/core';

/**
 * Gives a panel the keyboard when it opens: its first field that something is wrong with, else its first field, or the one that is named.
 * A panel that opens before what it asks about is known gives it as soon as a field is there.
 */
export function focusOnOpen(first = 'input, select, textarea'): void {
  const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  const waiting = afterEveryRender(() => {
    const field = host.querySelector<HTMLElement>('[aria-invalid=true]') ?? host.querySelector<HTMLElement>(first);
    if (!field) return;
    waiting.destroy();
    field.focus();
  });
}

/** Gives a whole view the keyboard when it opens, so that its keys work before anything in it is chosen. */
export function focusViewOnOpen(): void {
  const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  host.tabIndex = -1;
  afterNextRender(() => host.focus());
}
