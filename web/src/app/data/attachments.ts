import { inject, Injectable } from '@angular/core';
import type { Attachment } from '@plain-envoy/core/feed';
import { BehaviorSubject, map, type Observable, tap } from 'rxjs';
import { type Answer, Api } from './api';
import { ProjectStore } from './project';
import { derived } from './state';

/** The files that belong to the devices of the open project. */
@Injectable({ providedIn: 'root' })
export class AttachmentStore {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly all$ = new BehaviorSubject<readonly Attachment[]>([]);

  /** By device, the newest first. */
  readonly ofDevice$ = derived(this.all$, (all) => {
    const byDevice = new Map<string, Attachment[]>();
    for (const row of all) byDevice.set(row.deviceId, [...(byDevice.get(row.deviceId) ?? []), row]);
    return byDevice;
  });

  load(): Observable<Answer<Attachment[]>> {
    return this.api.get<Attachment[]>(`${this.path()}/attachments`).pipe(tap((answer) => answer.ok && this.all$.next(answer.value)));
  }

  add(deviceId: string, file: File): Observable<Answer<Attachment>> {
    const path = `${this.path()}/devices/${deviceId}/attachments?name=${encodeURIComponent(file.name)}`;
    return this.api.send<Attachment>(path, file).pipe(tap((answer) => answer.ok && this.all$.next([answer.value, ...this.all$.value])));
  }

  remove({ id }: Attachment): Observable<Answer<null>> {
    return this.api.delete(`${this.path()}/attachments/${id}`).pipe(
      tap((answer) => answer.ok && this.all$.next(this.all$.value.filter((row) => row.id !== id))),
      map((answer): Answer<null> => (answer.ok ? { ok: true, value: null } : answer)),
    );
  }

  /** Where the file itself is. */
  addressOf({ id }: Attachment): string {
    return `/api/${this.path()}/attachments/${id}`;
  }

  private path(): string {
    return `projects/${this.project.current!.project.id}`;
  }
}
