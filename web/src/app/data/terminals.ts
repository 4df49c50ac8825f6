import { inject, Injectable } from '@angular/core';
import type { TerminalEvent } from '@plain-envoy/core/feed';
import { toHex } from '@plain-envoy/core/frame';
import type { Target } from '@plain-envoy/core/plan';
import type { Observable } from 'rxjs';
import { type Answer, Api } from './api';
import { ProjectStore } from './project';

/** The text lines of the open project: what goes over them, and what is sent there. */
@Injectable({ providedIn: 'root' })
export class Terminals {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);

  /** Whoever stops listening closes it, if nobody else looks. */
  open(lineId: string, on: Target): Observable<TerminalEvent> {
    return this.api.stream(this.path(lineId), { on });
  }

  send(lineId: string, on: Target, bytes: Uint8Array): Observable<Answer<unknown>> {
    return this.api.post(`${this.path(lineId)}/send`, { on, hex: toHex(bytes).replaceAll(' ', '') });
  }

  private path(lineId: string): string {
    return `projects/${this.project.current!.project.id}/lines/${lineId}/terminal`;
  }
}
