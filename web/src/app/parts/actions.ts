import { DestroyRef, inject, Injectable, signal } from '@angular/core';

/** Something that can be done on a screen or everywhere: by its button, by its keys, or by its name. */
export interface Action {
  id: string;
  name: string;
  /** As `keysOf` writes them: `Alt+O`, `Ctrl+Shift+Z`, `?`. */
  keys?: string;
}

/** What keys do where a list, a table or a drawing has the keyboard. */
export interface KeyNote {
  keys: string;
  does: string;
}

/** What can be done at this moment, by whichever parts of the page are there. */
@Injectable({ providedIn: 'root' })
export class Actions {
  private readonly offered = signal<ReadonlyMap<string, () => unknown>>(new Map());
  /** What is done as soon as it can be. */
  private wanted: string | null = null;

  /** While the part that calls this in its constructor is there, these can be done. */
  offer(handlers: Readonly<Record<string, () => unknown>>): void {
    this.offered.update((offered) => new Map([...offered, ...Object.entries(handlers)]));
    inject(DestroyRef).onDestroy(() => this.offered.update((offered) => new Map([...offered].filter(([id, run]) => handlers[id] !== run))));
    const wanted = handlers[this.wanted ?? ''];
    // What it needs is made first.
    if (wanted) setTimeout(() => this.run(this.wanted!));
  }

  canRun(id: string): boolean {
    return this.offered().has(id);
  }

  run(id: string): void {
    this.wanted = null;
    this.offered().get(id)?.();
  }

  /** Does it as soon as its screen is there. */
  runLater(id: string): void {
    this.wanted = id;
  }
}

/** What was pressed, as it is written in the table of keys. */
export function keysOf(event: KeyboardEvent): string {
  const key = event.key === ' ' ? 'Space' : event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const isSign = event.key.length === 1 && key === key.toLowerCase();
  return [event.ctrlKey || event.metaKey ? 'Ctrl' : '', event.altKey ? 'Alt' : '', event.shiftKey && !isSign ? 'Shift' : '', key]
    .filter(Boolean)
    .join('+');
}
