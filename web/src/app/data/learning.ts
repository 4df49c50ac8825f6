import { Injectable } from '@angular/core';
import type { PlayedPoint } from '@plain-envoy/core/behaviours';
import type { Observed } from '@plain-envoy/core/learned';
import type { Recorded } from '@plain-envoy/core/replay';
import { from, type Observable, switchMap } from 'rxjs';
import { askWorker } from './ask-worker';
import type { AskLearning, ToldLearning } from './learning.worker';

/** What is learned of devices from what they were seen to do, in a worker; unsubscribing ends it. */
@Injectable({ providedIn: 'root' })
export class Learning {
  /** Who answers in a recording. */
  speakers(file: Blob): Observable<ToldLearning> {
    return from(file.arrayBuffer()).pipe(switchMap((bytes) => ask({ kind: 'speakers', bytes })));
  }

  fromRecording(file: Blob, who: Recorded, points: readonly PlayedPoint[]): Observable<ToldLearning> {
    return from(file.arrayBuffer()).pipe(switchMap((bytes) => ask({ kind: 'recording', bytes, who, points })));
  }

  fromObserved(observed: readonly Observed[], points: readonly PlayedPoint[]): Observable<ToldLearning> {
    return ask({ kind: 'observed', observed, points });
  }
}

function ask(asked: AskLearning): Observable<ToldLearning> {
  const bytes = asked.kind === 'observed' ? [] : [asked.bytes];
  return askWorker<ToldLearning>(
    () => new Worker(new URL('./learning.worker', import.meta.url), { type: 'module' }),
    asked,
    bytes,
    (message) => ({ kind: 'failed', sentence: `It could not be read: ${message}` }),
  );
}
