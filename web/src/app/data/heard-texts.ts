import { inject, Injectable } from '@angular/core';
import type { ListenedText, StandInState } from '@plain-envoy/core/feed';
import type { TextPortState } from '@plain-envoy/core/text-line';
import { combineLatest, exhaustMap, map, merge, type Observable, of, shareReplay, startWith, Subject, switchMap, timer } from 'rxjs';
import { Api } from './api';
import { Live } from './live';
import { PROJECT_ID } from './project-id';
import { StandIns } from './stand-ins';

const EACH_MS = 3000;

/** What was heard on lines of text, by who listens: a port of a converter that is played, or Plain Envoy itself, by the device. */
@Injectable({ providedIn: 'root' })
export class HeardTexts {
  private readonly api = inject(Api);
  private readonly path = `projects/${inject(PROJECT_ID)}/bench/texts`;
  private readonly standIns = inject(StandIns);
  private readonly again = new Subject<void>();
  private readonly live = inject(Live);
  private readonly listened$ = this.live.running$.pipe(
    switchMap((runs) => (runs ? merge(timer(0, EACH_MS), this.again).pipe(exhaustMap(() => this.look())) : of([]))),
    startWith([]),
  );
  readonly byListener$: Observable<ReadonlyMap<string, TextPortState>> = combineLatest([
    this.standIns.all$,
    this.live.onRealPlant$,
    this.listened$,
  ]).pipe(
    // What stand-ins hear says nothing of the real plant.
    map(([played, onRealPlant, listened]) => byListener(onRealPlant ? [] : played, listened)),
    shareReplay({ bufferSize: 1, refCount: true }),
  );

  /** Looks again. */
  refresh(): void {
    this.standIns.refresh();
    this.again.next();
  }

  private look(): Observable<readonly ListenedText[]> {
    return this.api.get<ListenedText[]>(this.path).pipe(map((answer) => (answer.ok ? answer.value : [])));
  }
}

function byListener(played: readonly StandInState[], listened: readonly ListenedText[]): ReadonlyMap<string, TextPortState> {
  return new Map<string, TextPortState>([
    ...played.flatMap(({ texts }) => texts.map((port) => [port.portId, port] as const)),
    ...listened.map((text) => [text.deviceId, text] as const),
  ]);
}
