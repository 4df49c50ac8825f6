import { ChangeDetectionStrategy, Component, DestroyRef, inject, Injectable } from '@angular/core';
import type { AbstractControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule } from '@angular/material/dialog';
import { map, type Observable, of, switchMap, tap, timer } from 'rxjs';

interface Watched {
  what: () => string;
  form: () => AbstractControl;
}

/** Asks whether what was typed and not saved may go. */
@Component({
  selector: 'pe-leave-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `<h2 mat-dialog-title>Not saved yet</h2>
    <mat-dialog-content>What was typed for {{ what }} is not saved.</mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" name="let-go" [mat-dialog-close]="true">Let it go</button>
      <button mat-flat-button type="button" name="stay" [mat-dialog-close]="false">Stay here</button>
    </mat-dialog-actions>`,
})
export class LeaveDialog {
  protected readonly what = inject<string>(MAT_DIALOG_DATA);
}

/** The forms that are open, so that nobody leaves what he has typed without being told. */
@Injectable({ providedIn: 'root' })
export class Unsaved {
  private readonly dialog = inject(MatDialog);
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
    const ask = () => this.dialog.open<LeaveDialog, string, boolean>(LeaveDialog, { data, width: '420px', autoFocus: 'button[name=stay]' });
    // The key that asked to leave, as it goes on through the page, would close the question again.
    return timer(0).pipe(
      switchMap(() => ask().afterClosed()),
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
