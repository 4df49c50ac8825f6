import { computed, inject, Injectable } from '@angular/core';
import type { CountersSeen } from '@plain-envoy/core/diagnose';
import type { ErrandRun } from '@plain-envoy/core/errand';
import type { BenchState, Series } from '@plain-envoy/core/feed';
import type { Fact, InquiryAsk } from '@plain-envoy/core/frame';
import type { Pattern } from '@plain-envoy/core/pattern';
import { type Answer, Api } from './api';
import { Live } from './live';
import { ProjectStore } from './project';

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
  readonly forced = computed(
    () => new Map(this.live.bench().byHand.flatMap((row) => (row.kind === 'forced' ? [[row.id, row.text] as const] : []))),
  );
  readonly moving = computed(() => this.live.bench().byHand.filter((row) => row.kind === 'pattern'));

  /** `broadcast`: to every unit of its serial line. */
  write(pointId: string, value: string, broadcast = false): Promise<Answer<{ sentence: string }>> {
    return this.api.post(`${this.path()}/bench/write`, { pointId, value, broadcast });
  }

  writeBlock(writes: readonly { pointId: string; value: string; broadcast: boolean }[]): Promise<Answer<{ sentence: string }>> {
    return this.api.post(`${this.path()}/bench/write-block`, { writes });
  }

  /** Asks a device about itself; what changes it has to be confirmed. */
  inquire(deviceId: string, ask: InquiryAsk, confirmed: boolean): Promise<Answer<{ sentence: string; facts: Fact[] }>> {
    return this.api.post(`${this.path()}/bench/inquire`, { deviceId, ask, confirmed });
  }

  /** What a device on a serial line has counted of its communication, and what we have; null where nothing was read, and why. */
  counters(deviceId: string): Promise<Answer<{ seen: CountersSeen | null; why: string | null }>> {
    return this.api.post(`${this.path()}/bench/counters`, { deviceId });
  }

  /** Null releases the route. */
  force(routeId: string, value: string | null): Promise<Answer<{ sentence: string }>> {
    return this.api.put(`${this.path()}/bench/force`, { routeId, value });
  }

  move(pointId: string, pattern: Pattern): Promise<Answer<{ sentence: string }>> {
    return this.api.post(`${this.path()}/bench/patterns`, { pointId, pattern });
  }

  endMove(id: string): Promise<Answer<unknown>> {
    return this.api.delete(`${this.path()}/bench/patterns/${id}`);
  }

  list(): Promise<Answer<HandEntry[]>> {
    return this.api.get(`${this.path()}/by-hand`);
  }

  series(pointIds: readonly string[], sinceMs: number): Promise<Answer<Series[]>> {
    return this.api.post(`${this.path()}/bench/series`, { pointIds, sinceMs });
  }

  /** `mark`: of the list of what would be done, as it was shown. */
  arm(asked: { word: string; minutes: number; mark: string; onEdit: string }): Promise<Answer<BenchState>> {
    return this.api.put(`${this.path()}/bench/armed`, asked);
  }

  /** Lets what edits would do otherwise be done on the armed plant. */
  confirm(mark: string): Promise<Answer<BenchState>> {
    return this.api.put(`${this.path()}/bench/confirmed`, { mark });
  }

  /** Lets real devices be asked for a while. */
  armReading(minutes: number): Promise<Answer<BenchState>> {
    return this.api.put(`${this.path()}/armed`, { minutes });
  }

  disarm(): Promise<Answer<BenchState>> {
    return this.api.delete(`${this.path()}/bench/armed`);
  }

  runReal(): Promise<Answer<BenchState>> {
    return this.api.post(`${this.path()}/bench/run`, { on: 'real' });
  }

  runErrand(errandId: string): Promise<Answer<ErrandRun>> {
    return this.api.post(`${this.path()}/errands/${errandId}/run`);
  }

  stopErrand(runId: string): Promise<Answer<unknown>> {
    return this.api.post(`errand-runs/${runId}/stop`);
  }

  errandRuns(errandId: string): Promise<Answer<ErrandRun[]>> {
    return this.api.get(`${this.path()}/errands/${errandId}/runs`);
  }

  private path(): string {
    return `projects/${this.project.document()!.project.id}`;
  }
}
