import { inject, Injectable } from '@angular/core';
import type { SettingEvent } from '@plain-envoy/core/feed';
import type { Target } from '@plain-envoy/core/plan';
import type { Snapshot } from '@plain-envoy/core/settings';
import type { Observable } from 'rxjs';
import { type Answer, Api } from './api';
import { ProjectStore } from './project';

/** Of which device, and whether of its stand-in or of itself. */
export interface AskedOf {
  on: Target;
  deviceId: string;
}

/** Settings of devices of the open project, as they hold them, and snapshots of them; whoever stops listening stops the work. */
@Injectable({ providedIn: 'root' })
export class DeviceSettings {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);

  /** Once, or every so many ms until nobody listens any more; each time ends with `done`. */
  read(of: AskedOf, pointIds: readonly string[], everyMs: number | null = null): Observable<SettingEvent> {
    return this.api.stream(`${this.path()}/settings/read`, { ...of, pointIds, everyMs });
  }

  /** Writes each and reads it back. */
  write(of: AskedOf, values: readonly { pointId: string; words: readonly number[] }[]): Observable<SettingEvent> {
    return this.api.stream(`${this.path()}/settings/write`, { ...of, values });
  }

  /** Reads all that the device lets be read, and keeps it. */
  keep(of: AskedOf, note: string): Observable<SettingEvent> {
    return this.api.stream(`${this.path()}/snapshots`, { ...of, note });
  }

  /** The newest first. */
  snapshots(): Observable<Answer<Snapshot[]>> {
    return this.api.get(`${this.path()}/snapshots`);
  }

  forget(snapshotId: string): Observable<Answer<unknown>> {
    return this.api.delete(`${this.path()}/snapshots/${snapshotId}`);
  }

  private path(): string {
    return `projects/${this.project.current!.project.id}`;
  }
}
