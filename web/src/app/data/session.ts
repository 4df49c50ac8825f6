import { computed, inject, Injectable, signal } from '@angular/core';
import { type Answer, Api, signedOut } from './api';

/** Whether one has to sign in here, and who has. */
export interface SignedIn {
  needed: boolean;
  name: string | null;
}

/** Who works here. Where a passphrase is set, nothing is shown and done before somebody has signed in with it. */
@Injectable({ providedIn: 'root' })
export class Session {
  private readonly api = inject(Api);
  private readonly state = signal<SignedIn>({ needed: false, name: null });

  readonly name = computed(() => this.state().name);
  /** Somebody has to sign in now. */
  readonly asks = computed(() => this.state().needed && this.state().name === null);

  constructor() {
    signedOut.subscribe(() => this.state.set({ needed: true, name: null }));
  }

  async look(): Promise<void> {
    const answer = await this.api.get<SignedIn>('session');
    if (answer.ok) this.state.set(answer.value);
  }

  async signIn(name: string, passphrase: string): Promise<Answer<SignedIn>> {
    const answer = await this.api.post<SignedIn>('sign-in', { name, passphrase });
    if (answer.ok) this.state.set(answer.value);
    return answer;
  }

  async signOut(): Promise<void> {
    const answer = await this.api.post<SignedIn>('sign-out');
    if (answer.ok) this.state.set(answer.value);
  }
}
