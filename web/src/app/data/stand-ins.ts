import { effect, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { EMPTY, exhaustMap, interval, switchMap } from 'rxjs';
import type { Point } from '@plain-envoy/core/model';
import { type Answer, Api } from './api';
import { Live } from './live';
import type { Fault, StandInState } from '@plain-envoy/core/feed';

const HEARD_EACH_MS = 3000;

/** The stand-ins and what a person does to them: hold a value, release it, cut a device off and put it back, make faults. */
@Injectable({ providedIn: 'root' })
export class StandIns {
  private readonly api = inject(Api);
  readonly all = signal<StandInState[]>([]);
  readonly problem = signal<string | null>(null);

  constructor() {
    const live = inject(Live);
    effect(() => {
      if (live.connected()) void this.load();
    });
    // What they hear on their lines changes while the bench runs.
    toObservable(live.running)
      .pipe(
        switchMap((running) => (running ? interval(HEARD_EACH_MS) : EMPTY)),
        exhaustMap(() => this.load()),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  async load(): Promise<void> {
    const answer = await this.api.get<StandInState[]>('stand-ins');
    this.problem.set(answer.ok ? null : answer.problem.message);
    if (answer.ok) this.all.set(answer.value);
  }

  cut(deviceId: string, cut: boolean): Promise<Answer<unknown>> {
    return this.change(deviceId, 'cut', { cut });
  }

  hold({ deviceId, table, offset }: Point, words: number[]): Promise<Answer<unknown>> {
    return this.change(deviceId, 'registers', { table, offset, words });
  }

  release({ deviceId, table, offset }: Point, count: number): Promise<Answer<unknown>> {
    return this.change(deviceId, 'release', { table, offset, count });
  }

  setFaults(deviceId: string, faults: readonly Fault[]): Promise<Answer<unknown>> {
    return this.change(deviceId, 'faults', { faults });
  }

  /** Takes it away for a while; it comes back as new. */
  reboot(deviceId: string, ms: number): Promise<Answer<unknown>> {
    return this.change(deviceId, 'reboot', { ms });
  }

  private async change(deviceId: string, what: string, body: unknown): Promise<Answer<unknown>> {
    const answer = await this.api.put(`stand-ins/${deviceId}/${what}`, body);
    await this.load();
    return answer;
  }
}
