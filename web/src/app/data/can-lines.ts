import { inject, Injectable } from '@angular/core';
import type { CanLineState } from '@plain-envoy/core/feed';
import { map, type Observable } from 'rxjs';
import { Api } from './api';
import { PROJECT_ID } from './project-id';

/** What is seen on the lines of CAN of the stand-ins. */
@Injectable({ providedIn: 'root' })
export class CanLines {
  private readonly api = inject(Api);
  private readonly path = `projects/${inject(PROJECT_ID)}/lines`;

  /** Null where the line is played by nobody. */
  look(lineId: string): Observable<CanLineState | null> {
    return this.api.get<CanLineState>(`${this.path}/${lineId}/can`).pipe(map((answer) => (answer.ok ? answer.value : null)));
  }

  /** Where the last frames are to be had as a file. */
  logUrl(lineId: string, form: 'log' | 'csv'): string {
    return `/api/${this.path}/${lineId}/can.${form}`;
  }
}
