import { Observable } from 'rxjs';
import { NOT_SIGNED_IN, signedOut } from './api';
import { type Problem } from '@plain-envoy/core/outcome';

/** Long work that was refused, with the field at which it is mended. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

/** Long work of the server that tells of itself as it goes on; whoever stops listening stops it. */
export function streamed<T>(path: string, body: object): Observable<T> {
  return new Observable((listener) => {
    const ending = new AbortController();
    void follow<T>(path, body, ending.signal, (event) => listener.next(event)).then(
      () => listener.complete(),
      (error: unknown) => (ending.signal.aborted ? listener.complete() : listener.error(error)),
    );
    return () => ending.abort();
  });
}

async function follow<T>(path: string, body: object, signal: AbortSignal, tell: (event: T) => void): Promise<void> {
  const headers = { 'content-type': 'application/json' };
  const response = await fetch(path, { method: 'POST', headers, body: JSON.stringify(body), signal }).catch((error: unknown) => {
    throw signal.aborted ? error : new Refused({ message: 'The server does not answer.', path: [] });
  });
  if (response.status === NOT_SIGNED_IN) signedOut.next();
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
