import { inject, Injectable } from '@angular/core';
import type { ProveEvent } from '@plain-envoy/core/feed';
import type { Problem } from '@plain-envoy/core/value';
import { Observable } from 'rxjs';
import { type Answer, Api } from './api';

/** What is asked of a proof; the server's own schemas say what fits. */
export type ProofKind = 'reach' | 'units' | 'hosts' | 'settings';

/** A proof that was refused, with the field at which it is mended. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

/** Walks, sweeps and searches that the server makes; whoever stops listening stops them. */
@Injectable({ providedIn: 'root' })
export class Proofs {
  private readonly api = inject(Api);

  run(projectId: string, kind: ProofKind, body: object): Observable<ProveEvent> {
    return new Observable((listener) => {
      const ending = new AbortController();
      void this.follow(`/api/projects/${projectId}/prove/${kind}`, body, ending.signal, (event) => listener.next(event)).then(
        () => listener.complete(),
        (error: unknown) => (ending.signal.aborted ? listener.complete() : listener.error(error)),
      );
      return () => ending.abort();
    });
  }

  armed(projectId: string): Promise<Answer<{ armed: boolean }>> {
    return this.api.get(`projects/${projectId}/armed`);
  }

  arm(projectId: string, armed: boolean): Promise<Answer<{ armed: boolean }>> {
    return this.api.put(`projects/${projectId}/armed`, { armed });
  }

  private async follow(path: string, body: object, signal: AbortSignal, tell: (event: ProveEvent) => void): Promise<void> {
    const headers = { 'content-type': 'application/json' };
    const response = await fetch(path, { method: 'POST', headers, body: JSON.stringify(body), signal }).catch((error: unknown) => {
      throw signal.aborted ? error : new Refused({ message: 'The server does not answer.', path: [] });
    });
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
      for (const line of lines) tell(JSON.parse(line) as ProveEvent);
    }
  }
}
