import { inject, Injectable } from '@angular/core';
import type { KeptMap } from '@plain-envoy/core/overheard';
import { combineLatest, concatMap, filter, from, map, type Observable, switchMap, take, toArray } from 'rxjs';
import { askWorker } from './ask-worker';
import { Library } from './library';
import type { AskRecording, ToldRecording } from './overheard.worker';

/** Recordings of what went over a line or a network, made into projects in a worker; unsubscribing ends it. */
@Injectable({ providedIn: 'root' })
export class Recordings {
  private readonly library = inject(Library);

  /** The maps of all that is kept, by which devices that were heard are named. Where the library does not answer, they stay without names. */
  maps(): Observable<readonly KeptMap[]> {
    return combineLatest([this.library.all$, this.library.problem$]).pipe(
      filter(([rows, problem]) => rows !== null || problem !== null),
      take(1),
      switchMap(([rows]) => from(rows ?? [])),
      concatMap((row) => this.library.get(row).pipe(map((answer) => (answer.ok ? [{ name: row.name, points: answer.value.points }] : [])))),
      concatMap((found) => found),
      toArray(),
    );
  }

  listen(file: Blob, name: string, kept: readonly KeptMap[] = []): Observable<ToldRecording> {
    return from(file.arrayBuffer()).pipe(
      switchMap((bytes) =>
        askWorker<ToldRecording>(
          () => new Worker(new URL('./overheard.worker', import.meta.url), { type: 'module' }),
          { bytes, name, kept } satisfies AskRecording,
          [bytes],
          (message) => ({ kind: 'failed', sentence: `It could not be read: ${message}` }),
        ),
      ),
    );
  }
}
