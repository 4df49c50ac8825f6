import { inject, Injectable } from '@angular/core';
import type { Fault, StandInState } from '@plain-envoy/core/feed';
import { fromHex } from '@plain-envoy/core/frame';
import type { Point } from '@plain-envoy/core/model';
import { BehaviorSubject, exhaustMap, filter, map, merge, type Observable, Subject, switchMap, tap, timer } from 'rxjs';
import { type Answer, Api } from './api';
import { Live } from './live';
import { PROJECT_ID } from './project-id';

const HEARD_EACH_MS = 3000;
const VALUES_EACH_MS = 500;

/** The stand-ins and what a person does to them: hold a value, release it, cut a device off and put it back, make faults. */
@Injectable({ providedIn: 'root' })
export class StandIns {
  private readonly api = inject(Api);
  private readonly path = `projects/${inject(PROJECT_ID)}/stand-ins`;
  private readonly states = new BehaviorSubject<readonly StandInState[]>([]);
  private readonly trouble = new BehaviorSubject<string | null>(null);
  private readonly changed = new Subject<void>();
  readonly all$: Observable<readonly StandInState[]> = this.states;
  readonly problem$: Observable<string | null> = this.trouble;

  constructor() {
    const live = inject(Live);
    // What they hear on their lines changes while the bench runs.
    const beat = live.running$.pipe(
      filter(Boolean),
      switchMap(() => timer(HEARD_EACH_MS, HEARD_EACH_MS)),
      exhaustMap(() => this.look()),
    );
    const now = merge(live.connected$.pipe(filter(Boolean)), this.changed).pipe(switchMap(() => this.look()));
    merge(beat, now).subscribe((answer) => {
      this.trouble.next(answer.ok ? null : answer.problem.message);
      if (answer.ok) this.states.next(answer.value);
    });
  }

  cut(deviceId: string, cut: boolean): Observable<Answer<unknown>> {
    return this.change(deviceId, 'cut', { cut });
  }

  hold({ deviceId, table, offset }: Point, words: number[]): Observable<Answer<unknown>> {
    return this.change(deviceId, 'registers', { table, offset, words });
  }

  release({ deviceId, table, offset }: Point, count: number): Observable<Answer<unknown>> {
    return this.change(deviceId, 'release', { table, offset, count });
  }

  setFaults(deviceId: string, faults: readonly Fault[]): Observable<Answer<unknown>> {
    return this.change(deviceId, 'faults', { faults });
  }

  /** Takes it away for a while; it comes back as new. */
  reboot(deviceId: string, ms: number): Observable<Answer<unknown>> {
    return this.change(deviceId, 'reboot', { ms });
  }

  /** What the variables of the program of a device hold, again and again while somebody looks; null while nobody knows. */
  variables(deviceId: string): Observable<Readonly<Record<string, unknown>> | null> {
    return timer(0, VALUES_EACH_MS).pipe(
      exhaustMap(() => this.api.get<Record<string, unknown>>(`${this.path}/${deviceId}/variables`)),
      map((answer) => (answer.ok ? answer.value : null)),
    );
  }

  /** The image of a converter as its stand-in has it, again and again while somebody looks; null while nobody knows. */
  image(deviceId: string): Observable<Uint8Array | null> {
    return timer(0, VALUES_EACH_MS).pipe(
      exhaustMap(() => this.api.get<{ hex: string }>(`${this.path}/${deviceId}/image`)),
      map((answer) => {
        const bytes = answer.ok ? fromHex(answer.value.hex) : null;
        return bytes?.ok ? bytes.value : null;
      }),
    );
  }

  /** Puts bytes into it by hand. */
  poke(deviceId: string, byte: number, bytes: readonly number[]): Observable<Answer<unknown>> {
    return this.change(deviceId, 'image', { byte, bytes });
  }

  /** Looks again at how they are. */
  refresh(): void {
    this.changed.next();
  }

  private look(): Observable<Answer<StandInState[]>> {
    return this.api.get<StandInState[]>(this.path);
  }

  private change(deviceId: string, what: string, body: unknown): Observable<Answer<unknown>> {
    return this.api.put(`${this.path}/${deviceId}/${what}`, body).pipe(tap(() => this.changed.next()));
  }
}
