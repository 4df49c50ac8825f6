import { DestroyRef, inject, Injectable } from '@angular/core';
import type { AbstractControl } from '@angular/forms';
import { map, type Observable, of, switchMap, tap, timer } from 'rxjs';
import { Dialogs } from './dialogs';

interface Watched {
  what: () => string;
  form: () => AbstractControl;
}

const leaveDialog = () => import('./leave-dialog').then((file) => file.LeaveDialog);

/** The forms that are open, so that nobody leaves what he has typed without being told. */
@Injectable({ providedIn: 'root' })
export class Unsaved {
  private readonly dialogs = inject(Dialogs);
  private readonly watched = new Set<Watched>();

  constructor() {
    // The browser asks in its own words.
    const leaving = (event: BeforeUnloadEvent) => {
      if (!this.isSaved()) event.preventDefault();
    };
    addEventListener('beforeunload', leaving);
    inject(DestroyRef).onDestroy(() => removeEventListener('beforeunload', leaving));
  }

  /** While the part that calls this in its constructor is there, its form is asked about. `what` is its name in a sentence. */
  watch(what: () => string, form: () => AbstractControl): void {
    const watched = { what, form };
    this.watched.add(watched);
    inject(DestroyRef).onDestroy(() => this.watched.delete(watched));
  }

  /** Whether all that is typed may go; where something is not saved, a person is asked. */
  mayLeave(): Observable<boolean> {
    const dirty = this.dirty();
    if (dirty.length === 0) return of(true);
    const data = dirty.map(({ what }) => what()).join(' and ');
    const ask = () => this.dialogs.open<boolean>(leaveDialog, { data, width: '420px', autoFocus: 'button[name=stay]' });
    // The key that asked to leave, as it goes on through the page, would close the question again.
    return timer(0).pipe(
      switchMap(ask),
      map((answer) => answer === true),
      tap((may) => may && dirty.forEach(({ form }) => form().markAsPristine())),
    );
  }

  isSaved(): boolean {
    return this.dirty().length === 0;
  }

  private dirty(): Watched[] {
    return [...this.watched].filter(({ form }) => form().dirty);
  }
}

/** For the routes of the page: nobody leaves a screen, or turns to another thing on it, before he was told. */
export const mayLeaveScreen = (): Observable<boolean> => inject(Unsaved).mayLeave();
