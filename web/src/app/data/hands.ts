import { inject, Injectable } from '@angular/core';
import type { CountersSeen } from '@plain-envoy/core/diagnose';
import type { ErrandRun } from '@plain-envoy/core/errand';
import type { BenchState, Series } from '@plain-envoy/core/feed';
import type { Fact, InquiryAsk } from '@plain-envoy/core/codec';
import type { Pattern } from '@plain-envoy/core/pattern';
import { type Observable, tap } from 'rxjs';
import { type Answer, Api } from './api';
import { Live } from './live';
import { ProjectStore } from './project';
import { derived } from './state';

/** What was written, forced or armed by hand, as it is kept. */
export interface HandEntry {
  id: string;
  atMs: number;
  revision: number;
  sentence: string;
  /** Who did it, where one has to sign in. */
  by: string | null;
}

/** What a person does to the bench of the open project while it runs, and what errands do there. */
@Injectable({ providedIn: 'root' })
export class Hands {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly live = inject(Live);

  /** Routes that are forced, by id, with the value that is kept there. */
  readonly forced$ = derived(
    this.live.bench$,
    ({ byHand }) => new Map(byHand.flatMap((row) => (row.kind === 'forced' ? [[row.id, row.text] as const] : []))),
  );
  readonly moving$ = derived(this.live.bench$, ({ byHand }) => byHand.filter((row) => row.kind === 'pattern'));

  /** `broadcast`: to every unit of its serial line. */
  write(pointId: string, value: string, broadcast = false): Observable<Answer<{ sentence: string }>> {
    return this.api.post(`${this.path()}/bench/write`, { pointId, value, broadcast });
  }

  writeBlock(writes: readonly { pointId: string; value: string; broadcast: boolean }[]): Observable<Answer<{ sentence: string }>> {
    return this.api.post(`${this.path()}/bench/write-block`, { writes });
  }

  /** Asks a device about itself; what changes it has to be confirmed. */
  inquire(deviceId: string, ask: InquiryAsk, confirmed: boolean): Observable<Answer<{ sentence: string; facts: Fact[] }>> {
    return this.api.post(`${this.path()}/bench/inquire`, { deviceId, ask, confirmed });
  }

  /** What a device on a serial line has counted of its communication, and what we have; null where nothing was read, and why. */
  counters(deviceId: string): Observable<Answer<{ seen: CountersSeen | null; why: string | null }>> {
    return this.api.post(`${this.path()}/bench/counters`, { deviceId });
  }

  /** Null releases the route. */
  force(routeId: string, value: string | null): Observable<Answer<{ sentence: string }>> {
    return this.api.put(`${this.path()}/bench/force`, { routeId, value });
  }

  move(pointId: string, pattern: Pattern): Observable<Answer<{ sentence: string }>> {
    return this.api.post(`${this.path()}/bench/patterns`, { pointId, pattern });
  }

  endMove(id: string): Observable<Answer<unknown>> {
    return this.api.delete(`${this.path()}/bench/patterns/${id}`);
  }

  list(): Observable<Answer<HandEntry[]>> {
    return this.api.get(`${this.path()}/by-hand`);
  }

  series(pointIds: readonly string[], sinceMs: number): Observable<Answer<Series[]>> {
    return this.api.post(`${this.path()}/bench/series`, { pointIds, sinceMs });
  }

  /** `mark`: of the list of what would be done, as it was shown. */
  arm(asked: { word: string; minutes: number; mark: string; onEdit: string }): Observable<Answer<BenchState>> {
    return this.told(this.api.put(`${this.path()}/bench/armed`, asked));
  }

  /** Lets what edits would do otherwise be done on the armed plant. */
  confirm(mark: string): Observable<Answer<BenchState>> {
    return this.told(this.api.put(`${this.path()}/bench/confirmed`, { mark }));
  }

  /** Lets real devices be asked for a while. */
  armReading(minutes: number): Observable<Answer<BenchState>> {
    return this.told(this.api.put(`${this.path()}/armed`, { minutes }));
  }

  disarm(): Observable<Answer<BenchState>> {
    return this.told(this.api.delete(`${this.path()}/bench/armed`));
  }

  /** Runs the open project on its stand-ins, or stops it. */
  toggle(): Observable<Answer<unknown>> {
    return this.live.bench.running ? this.api.post(`${this.path()}/bench/stop`) : this.api.post(`${this.path()}/bench/run`);
  }

  runReal(): Observable<Answer<BenchState>> {
    return this.told(this.api.post(`${this.path()}/bench/run`, { on: 'real' }));
  }

  runErrand(errandId: string): Observable<Answer<ErrandRun>> {
    return this.api.post(`${this.path()}/errands/${errandId}/run`);
  }

  stopErrand(runId: string): Observable<Answer<unknown>> {
    return this.api.post(`${this.path()}/errand-runs/${runId}/stop`);
  }

  errandRuns(errandId: string): Observable<Answer<ErrandRun[]>> {
    return this.api.get(`${this.path()}/errands/${errandId}/runs`);
  }

  /** How the bench is after it. */
  private told(asked: Observable<Answer<BenchState>>): Observable<Answer<BenchState>> {
    return asked.pipe(tap((answer) => answer.ok && this.live.benchIs(answer.value)));
  }

  private path(): string {
    return `projects/${this.project.current!.project.id}`;
  }
}
