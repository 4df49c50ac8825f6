import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import { catchError, map, Observable, of, Subject } from 'rxjs';
import { type Problem } from '@plain-envoy/core/outcome';

/** An answer of the server: what was asked for, or a sentence that says why not and where. */
export type Answer<T> = { ok: true; value: T } | { ok: false; problem: Problem };

/** Long work that was refused, with the field at which it is mended. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

const NOT_SIGNED_IN = 401;

/**
 * Talks to the server, when somebody subscribes and once for each who does; unsubscribing gives it up. A refusal or a lost connection is
 * a value with a sentence, never an error.
 */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);
  private readonly leaving = new Subject<void>();
  /** Fires when the server wants somebody to sign in first. */
  readonly signedOut$: Observable<void> = this.leaving;

  get<T>(path: string): Observable<Answer<T>> {
    return this.call<T>('GET', path);
  }

  post<T>(path: string, body: unknown = {}): Observable<Answer<T>> {
    return this.call<T>('POST', path, body);
  }

  put<T>(path: string, body: unknown): Observable<Answer<T>> {
    return this.call<T>('PUT', path, body);
  }

  delete<T>(path: string): Observable<Answer<T>> {
    return this.call<T>('DELETE', path);
  }

  /** Sends a file as it is. */
  send<T>(path: string, file: Blob): Observable<Answer<T>> {
    return this.answered(this.http.post<T>(`/api/${path}`, file, { headers: { 'content-type': 'application/octet-stream' } }));
  }

  /** Fetches a file that is made for what is asked. */
  file(path: string, body: object): Observable<Answer<Blob>> {
    return this.answered(this.http.post(`/api/${path}`, body, { responseType: 'blob' }));
  }

  /** Long work of the server that tells of itself as it goes on; a refusal is an error, `Refused`. A file is sent as it is. */
  stream<T>(path: string, body: object | Blob): Observable<T> {
    return new Observable((listener) => {
      const ending = new AbortController();
      this.follow<T>(`/api/${path}`, body, ending.signal, (event) => listener.next(event)).then(
        () => listener.complete(),
        (error: unknown) => (ending.signal.aborted ? listener.complete() : listener.error(error)),
      );
      return () => ending.abort();
    });
  }

  private call<T>(method: string, path: string, body?: unknown): Observable<Answer<T>> {
    return this.answered(this.http.request<T>(method, `/api/${path}`, { body }));
  }

  private answered<T>(asked: Observable<T>): Observable<Answer<T>> {
    return asked.pipe(
      map((value): Answer<T> => ({ ok: true, value })),
      catchError((error: unknown) => of<Answer<T>>({ ok: false, problem: this.problemOf(error) })),
    );
  }

  private problemOf(error: unknown): Problem {
    if (!(error instanceof HttpErrorResponse)) return { message: String(error), path: [] };
    if (error.status === NOT_SIGNED_IN) this.leaving.next();
    const told = (error.error as { error?: Problem } | null)?.error;
    if (told?.message) return { message: told.message, path: told.path ?? [] };
    if (error.status === 0) return { message: 'The server does not answer. Nothing was saved; what you typed is still here.', path: [] };
    return { message: `The server answered with status ${error.status}.`, path: [] };
  }

  private async follow<T>(path: string, body: object | Blob, signal: AbortSignal, tell: (event: T) => void): Promise<void> {
    const sent =
      body instanceof Blob ? { type: 'application/octet-stream', body } : { type: 'application/json', body: JSON.stringify(body) };
    const headers = { 'content-type': sent.type };
    const response = await fetch(path, { method: 'POST', headers, body: sent.body, signal }).catch((error: unknown) => {
      throw signal.aborted ? error : new Refused({ message: 'The server does not answer.', path: [] });
    });
    if (response.status === NOT_SIGNED_IN) this.leaving.next();
    if (!response.ok || !response.body) {
      const told = (await response.json().catch(() => null)) as { error?: Problem } | null;
      throw new Refused(told?.error ?? { message: `The server answered with status ${response.status}.`, path: [] });
    }
    const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
    for (let rest = ''; ;) {
      const { value, done } = await reader.read();
      if (done) return;
      const lines = (rest + value).split('\n');
      rest = lines.pop()!;
      for (const line of lines) tell(JSON.parse(line) as T);
    }
  }
}
