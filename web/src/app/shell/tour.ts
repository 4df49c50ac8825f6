import { Injectable, signal } from '@angular/core';

const KEPT = 'plain-envoy tour';

/** Five steps through the demo, taken when somebody asks for them. */
@Injectable({ providedIn: 'root' })
export class Tour {
  /** The step that is shown; null while there is none. */
  readonly at = signal<number | null>(null);
  /** Offered until it was taken or declined once in this browser. */
  readonly isOffered = signal(localStorage.getItem(KEPT) === null);

  begin(): void {
    this.decline();
    this.at.set(0);
  }

  decline(): void {
    localStorage.setItem(KEPT, 'seen');
    this.isOffered.set(false);
  }

  end(): void {
    this.at.set(null);
  }
}
