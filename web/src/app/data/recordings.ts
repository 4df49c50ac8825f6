import { Injectable } from '@angular/core';
import { from, Observable, switchMap } from 'rxjs';
import type { ToldRecording } from './overheard.worker';

/** Recordings of what went over a line or a network, made into projects in a worker; unsubscribing ends it. */
@Injectable({ providedIn: 'root' })
export class Recordings {
  listen(file: Blob, name: string): Observable<ToldRecording> {
    return from(file.arrayBuffer()).pipe(
      switchMap(
        (bytes) =>
          new Observable<ToldRecording>((listener) => {
            const worker = new Worker(new URL('./overheard.worker', import.meta.url), { type: 'module' });
            worker.onmessage = ({ data }: MessageEvent<ToldRecording>) => {
              listener.next(data);
              listener.complete();
            };
            worker.onerror = ({ message }) => listener.next({ kind: 'failed', sentence: `It could not be read: ${message}` });
            worker.postMessage({ bytes, name }, [bytes]);
            return () => worker.terminate();
          }),
      ),
    );
  }
}
