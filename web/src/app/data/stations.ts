import { inject, Injectable } from '@angular/core';
import type { ArchivedState } from '@plain-envoy/core/telecontrol-line';
import { map, type Observable } from 'rxjs';
import { type Answer, Api } from './api';
import { PROJECT_ID } from './project-id';

/** The control stations of the stand-ins: what they have in their archives, and commands that a person gives there. */
@Injectable({ providedIn: 'root' })
export class Stations {
  private readonly api = inject(Api);
  private readonly path = `projects/${inject(PROJECT_ID)}/stand-ins`;

  /** The last events of all points, or all of one; none where nobody plays it. */
  archive(deviceId: string, pointId?: string): Observable<readonly ArchivedState[]> {
    const query = pointId ? `?pointId=${pointId}` : '';
    return this.api
      .get<{ events: ArchivedState[] }>(`${this.path}/${deviceId}/archive${query}`)
      .pipe(map((answer) => (answer.ok ? answer.value.events : [])));
  }

  /** `said` is the number as it goes over the link. */
  command(deviceId: string, pointId: string, said: number): Observable<Answer<unknown>> {
    return this.api.put(`${this.path}/${deviceId}/command`, { pointId, said });
  }
}
