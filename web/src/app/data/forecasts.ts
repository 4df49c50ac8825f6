import { DestroyRef, inject, Injectable } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Counters } from '@plain-envoy/core/feed';
import { type Advice, asItIs, type RealAnswers, type WhatIf } from '@plain-envoy/core/forecast';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { BehaviorSubject, combineLatest, EMPTY, type Observable, of, switchMap, tap, timer } from 'rxjs';
import type { ForecastAnswer, Forecasted, ForecastRequest } from './forecast.worker';
import type { Rows } from './feed-topic';
import { Live } from './live';
import { type OpenedDocument, ProjectStore } from './project';
import { derived } from './state';

const ADVICE_AFTER_MS = 250;
const HORIZON_MS = 60_000;

/**
 * What the plan will really do, and what it would do if something were otherwise. Two workers reckon: one answers while a
 * slider moves, the other looks for advice once it rests. Provided by the screen that shows it, and gone with it.
 */
@Injectable()
export class Forecasts {
  private readonly project = inject(ProjectStore);
  private readonly live = inject(Live);
  private readonly supposed = new BehaviorSubject<WhatIf>(asItIs);
  private readonly backingOff = new BehaviorSubject(true);
  private readonly answers = new BehaviorSubject<Answers>({ base: null, other: null, tookMs: 0, advice: null });
  private readonly now = new Desk((answer) => this.take(answer));
  private readonly later = new Desk((answer) => this.take(answer));
  /** The worst answers of devices, while the bench runs on the real plant. */
  private real: RealAnswers = {};

  readonly whatIf$: Observable<WhatIf> = this.supposed;
  /** Without it, a dead device is asked as often as any. */
  readonly backsOff$: Observable<boolean> = this.backingOff;
  readonly base$ = derived(this.answers, ({ base }) => base);
  /** Null where nothing is supposed otherwise. */
  readonly other$ = derived(this.answers, ({ other }) => other);
  /** What would be, or what is where nothing is supposed otherwise. */
  readonly shown$ = derived(this.answers, ({ base, other }) => other ?? base);
  readonly tookMs$ = derived(this.answers, ({ tookMs }) => tookMs);
  /** Null while it is looked for. */
  readonly advice$ = derived(this.answers, ({ advice }) => advice);

  constructor() {
    const devices$ = derived(this.project.devices$, (devices) => [...devices.keys()]);
    const counted$ = this.live.onRealPlant$.pipe(switchMap((isReal) => (isReal ? this.live.devices.of(devices$) : of(new Map()))));
    counted$.pipe(takeUntilDestroyed()).subscribe((counted: Rows<Counters>) => {
      this.real = Object.fromEntries([...counted.values()].flatMap(({ id, worstMs }) => (worstMs ? [[id, worstMs]] : [])));
    });
    combineLatest([this.project.opened$, this.supposed, this.backingOff])
      .pipe(
        switchMap(([opened, whatIf, backsOff]) => {
          if (!opened) return EMPTY;
          const asked = { whatIf, backsOff, horizonMs: HORIZON_MS, real: this.real };
          this.now.ask({ ...asked, task: 'forecast' }, opened);
          this.tell({ advice: null });
          return timer(ADVICE_AFTER_MS).pipe(tap(() => this.later.ask({ ...asked, task: 'advice' }, opened)));
        }),
        takeUntilDestroyed(),
      )
      .subscribe();
    inject(DestroyRef).onDestroy(() => {
      this.now.close();
      this.later.close();
    });
  }

  suppose(change: (now: WhatIf) => WhatIf): void {
    this.supposed.next(change(this.supposed.value));
  }

  backOff(backsOff: boolean): void {
    this.backingOff.next(backsOff);
  }

  private take(answer: ForecastAnswer): void {
    if (answer.task === 'advice') this.tell({ advice: answer.advice });
    else this.tell({ base: answer.base, other: answer.other, tookMs: answer.tookMs });
  }

  private tell(news: Partial<Answers>): void {
    this.answers.next({ ...this.answers.value, ...news });
  }
}

interface Answers {
  base: Forecasted | null;
  other: Forecasted | null;
  tookMs: number;
  advice: readonly Advice[] | null;
}

type Asked = Pick<ForecastRequest, 'task' | 'whatIf' | 'backsOff' | 'horizonMs' | 'real'>;

/** A worker that does one thing at a time; of what is asked meanwhile only the last counts. */
class Desk {
  private readonly worker = new Worker(new URL('./forecast.worker', import.meta.url), { type: 'module' });
  private serial = 0;
  private busy = false;
  private next: (() => void) | null = null;
  /** What the worker has a copy of. */
  private sent: ProjectDocument | null = null;

  constructor(private readonly onAnswer: (answer: ForecastAnswer) => void) {
    this.worker.onmessage = ({ data }: MessageEvent<ForecastAnswer>) => {
      this.busy = false;
      this.onAnswer(data);
      const next = this.next;
      this.next = null;
      next?.();
    };
  }

  ask(asked: Asked, opened: OpenedDocument): void {
    if (this.busy) {
      this.next = () => this.ask(asked, opened);
      return;
    }
    this.busy = true;
    const { document, edit } = opened;
    const isNext = edit && edit.from === this.sent;
    const what = document === this.sent ? { changes: [] } : isNext ? { changes: edit.changes } : { document };
    this.worker.postMessage({ serial: ++this.serial, ...asked, ...what } satisfies ForecastRequest);
    this.sent = document;
  }

  close(): void {
    this.worker.terminate();
  }
}
