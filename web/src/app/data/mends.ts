import { inject, Injectable } from '@angular/core';
import type { Finding } from '@plain-envoy/core/findings';
import type { Mend } from '@plain-envoy/core/mends';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { map, Observable, of, scan, shareReplay, startWith, switchMap } from 'rxjs';
import type { Tried } from './mends.worker';
import { ProjectStore } from './project';

/** What may mend the findings of the open project, tried on a copy in a worker of its own. Provided by what shows it, and gone with it. */
@Injectable()
export class Mends {
  /** By finding, see `mendsOf`. */
  readonly tried$ = inject(ProjectStore).document$.pipe(
    switchMap((document) => (document ? triedOn(document) : of(nothing))),
    shareReplay({ bufferSize: 1, refCount: true }),
  );
}

type AllTried = ReadonlyMap<string, readonly Mend[]>;
const nothing: AllTried = new Map<string, readonly Mend[]>();

/** None while it is tried, or where what was tried made something worse. */
export function mendsOf(tried: AllTried, finding: Finding): readonly Mend[] {
  return tried.get(keyOf(finding)) ?? [];
}

/** By finding. */
export function triedAll(all: readonly Tried[]): AllTried {
  return new Map(all.map((one) => [keyOf(one.of), one.mends]));
}

function triedOn(document: ProjectDocument): Observable<AllTried> {
  return new Observable<Tried>((listener) => {
    const worker = new Worker(new URL('./mends.worker', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<Tried>) => listener.next(data);
    worker.postMessage({ document });
    return () => worker.terminate();
  }).pipe(
    scan((all: readonly Tried[], one) => [...all, one], []),
    map(triedAll),
    startWith(nothing),
  );
}

function keyOf({ check, at }: Tried['of']): string {
  return JSON.stringify([check, at.entity, at.id, at.field]);
}
