import { afterNextRender, ElementRef, inject } from '@angular/core';

/** Gives a panel the keyboard when it opens: its first field that something is wrong with, else its first field. */
export function focusOnOpen(): void {
  const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  afterNextRender(() => {
    const field = host.querySelector<HTMLElement>('[aria-invalid=true]') ?? host.querySelector<HTMLElement>('input, select, textarea');
    field?.focus();
  });
}

/** Gives a whole view the keyboard when it opens, so that its keys work before anything in it is chosen. */
export function focusViewOnOpen(): void {
  const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  host.tabIndex = -1;
  afterNextRender(() => host.focus());
}
