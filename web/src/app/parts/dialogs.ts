import { inject, Injectable, Injector, type Type } from '@angular/core';
import type { MatDialogConfig } from '@angular/material/dialog';
import { defer, finalize, type Observable, switchMap } from 'rxjs';

/** Opens dialogs. What they are made of is loaded when it is wanted: none is on the first screen. */
@Injectable({ providedIn: 'root' })
export class Dialogs {
  private readonly injector = inject(Injector);
  private readonly opened = new Set<() => Promise<Type<unknown>>>();

  /** Opens one, and tells what it was closed with. */
  open<Result = unknown>(load: () => Promise<Type<unknown>>, config: MatDialogConfig): Observable<Result | undefined> {
    return defer(() => {
      this.opened.add(load);
      return this.fetch(load);
    }).pipe(
      switchMap(([{ MatDialog }, part]) => this.injector.get(MatDialog).open<unknown, unknown, Result>(part, config).afterClosed()),
      finalize(() => this.opened.delete(load)),
    );
  }

  /** Whether one is open or about to be; this one, where it is named. */
  isOpen(load?: () => Promise<Type<unknown>>): boolean {
    return load ? this.opened.has(load) : this.opened.size > 0;
  }

  /** Has its parts at hand before they are wanted. */
  fetch(load: () => Promise<Type<unknown>>) {
    return Promise.all([import('@angular/material/dialog'), load()]);
  }
}
