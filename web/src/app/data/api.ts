import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import { firstValueFrom, Subject } from 'rxjs';
import { type Problem } from '@plain-envoy/core/outcome';

/** An answer of the server: what was asked for, or a sentence that says why not and where. */
export type Answer<T> = { ok: true; value: T } | { ok: false; problem: Problem };

export const NOT_SIGNED_IN = 401;

/** Fires when the server wants somebody to sign in first. */
export const signedOut = new Subject<void>();

/** Talks to the server; a refusal or a lost connection is a value with a sentence, never an exception. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  get<T>(path: string): Promise<Answer<T>> {
    return this.call<T>('GET', path);
  }

  post<T>(path: string, body: unknown = {}): Promise<Answer<T>> {
    return this.call<T>('POST', path, body);
  }

  put<T>(path: string, body: unknown): Promise<Answer<T>> {
    return this.call<T>('PUT', path, body);
  }

  delete<T>(path: string): Promise<Answer<T>> {
    return this.call<T>('DELETE', path);
  }

  /** Sends a file as it is. */
  upload<T>(path: string, file: Blob): Promise<Answer<T>> {
    return this.call<T>('POST', path, new Blob([file], { type: 'application/octet-stream' }));
  }

  private async call<T>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    try {
      return { ok: true, value: await firstValueFrom(this.http.request<T>(method, `/api/${path}`, { body })) };
    } catch (error) {
      return { ok: false, problem: problemOf(error) };
    }
  }
}

function problemOf(error: unknown): Problem {
  if (error instanceof HttpErrorResponse) {
    if (error.status === NOT_SIGNED_IN) signedOut.next();
    const told = (error.error as { error?: Problem } | null)?.error;
    if (told?.message) return { message: told.message, path: told.path ?? [] };
    if (error.status === 0) return { message: 'The server does not answer. Nothing was saved; what you typed is still here.', path: [] };
    return { message: `The server answered with status ${error.status}.`, path: [] };
  }
  return { message: String(error), path: [] };
}
