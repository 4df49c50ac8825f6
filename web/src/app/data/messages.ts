import { DestroyRef, inject, Injectable, Injector } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { defer, from, map, type Observable, switchMap } from 'rxjs';
import type { MatSnackBarConfig, MatSnackBarRef, TextOnlySnackBar } from '@angular/material/snack-bar';

const SAID_MS = 4000;
const OFFERED_MS = 10_000;

/** Short messages at the edge of the page. What shows them is loaded with the first. */
@Injectable({ providedIn: 'root' })
export class Messages {
  private readonly injector = inject(Injector);
  private readonly ends = inject(DestroyRef);

  say(text: string): void {
    this.open(text, undefined, { duration: SAID_MS, politeness: 'polite' }).subscribe();
  }

  /** Stays until somebody closes it. */
  keep(text: string): void {
    this.open(text, 'Close', { politeness: 'assertive' }).subscribe();
  }

  /** Says it with something that can be done about it for a while; tells when somebody wants that. */
  offer(text: string, action: string): Observable<void> {
    return this.open(text, action, { duration: OFFERED_MS, politeness: 'polite' }).pipe(switchMap((message) => message.onAction()));
  }

  private open(text: string, action: string | undefined, config: MatSnackBarConfig): Observable<MatSnackBarRef<TextOnlySnackBar>> {
    return defer(() => from(import('@angular/material/snack-bar'))).pipe(
      // Where the page has ended meanwhile, there is nobody to tell.
      takeUntilDestroyed(this.ends),
      map(({ MatSnackBar }) => this.injector.get(MatSnackBar).open(text, action, config)),
    );
  }
}
