import { inject, Injectable } from '@angular/core';
import { BehaviorSubject, map, type Observable, tap } from 'rxjs';
import { type Answer, Api } from './api';
import { derived } from './state';

/** Whether one has to sign in here, and who has. */
export interface SignedIn {
  needed: boolean;
  name: string | null;
}

/** Who works here. Where a passphrase is set, nothing is shown and done before somebody has signed in with it. */
@Injectable({ providedIn: 'root' })
export class Session {
  private readonly api = inject(Api);
  private readonly state = new BehaviorSubject<SignedIn>({ needed: false, name: null });

  /** Who has signed in; null where nobody has, or has to. */
  readonly name$ = derived(this.state, ({ needed, name }) => (needed ? name : null));
  /** What one calls oneself where nobody signs in, empty for nothing; null where one signs in. */
  readonly called$ = derived(this.state, ({ needed, name }) => (needed ? null : (name ?? '')));
  /** Somebody has to sign in now. */
  readonly asks$ = derived(this.state, ({ needed, name }) => needed && name === null);

  constructor() {
    this.api.signedOut$.subscribe(() => this.state.next({ needed: true, name: null }));
  }

  /** Asks who has signed in; tells whether somebody has to. */
  look(): Observable<boolean> {
    return this.taken(this.api.get<SignedIn>('session')).pipe(map(() => this.state.value.needed && this.state.value.name === null));
  }

  signIn(name: string, passphrase: string): Observable<Answer<SignedIn>> {
    return this.taken(this.api.post<SignedIn>('sign-in', { name, passphrase }));
  }

  /** What is done stands under this name from now on; under none where it is empty. */
  call(name: string): Observable<Answer<SignedIn>> {
    return this.taken(this.api.put<SignedIn>('session', { name }));
  }

  signOut(): Observable<Answer<SignedIn>> {
    return this.taken(this.api.post<SignedIn>('sign-out'));
  }

  private taken(asked: Observable<Answer<SignedIn>>): Observable<Answer<SignedIn>> {
    return asked.pipe(tap((answer) => answer.ok && this.state.next(answer.value)));
  }
}
