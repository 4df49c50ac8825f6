import { computed, DestroyRef, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { type Advice, asItIs, type RealAnswers, type WhatIf } from '@plain-envoy/core/forecast';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { ForecastAnswer, Forecasted, ForecastRequest } from './forecast.worker';
import { rowsFor } from './feed-topic';
import { Live } from './live';
import { ProjectStore } from './project';

const ADVICE_AFTER_MS = 250;

/**
 * What the plan will really do, and what it would do if something were otherwise. Two workers reckon: one answers while a
 * slider moves, the other looks for advice once it rests. Provided by the screen that shows it, and gone with it.
 */
@Injectable()
export class Forecasts {
  private readonly project = inject(ProjectStore);
  private readonly live = inject(Live);
  private readonly counters = rowsFor(this.live.devices, () => this.project.document()?.devices.map(({ id }) => id) ?? []);
  readonly whatIf = signal<WhatIf>(asItIs);
  /** Without it, a dead device is asked as often as any. */
  readonly backsOff = signal(true);
  readonly horizonMs = signal(60_000);

  readonly base = signal<Forecasted | null>(null);
  /** Null where nothing is supposed otherwise. */
  readonly other = signal<Forecasted | null>(null);
  /** What would be, or what is where nothing is supposed otherwise. */
  readonly shown = computed(() => this.other() ?? this.base());
  readonly tookMs = signal(0);
  /** Null while it is looked for. */
  readonly advice = signal<readonly Advice[] | null>(null);

  private readonly now = new Desk((answer) => this.take(answer));
  private readonly later = new Desk((answer) => this.take(answer));

  constructor() {
    let waiting: ReturnType<typeof setTimeout> | undefined;
    effect(() => {
      const document = this.project.document();
      const asked = {
        whatIf: this.whatIf(),
        backsOff: this.backsOff(),
        horizonMs: this.horizonMs(),
        real: untracked(() => this.measured()),
      };
      if (!document) return;
      this.now.ask({ ...asked, task: 'forecast' }, document, this.project);
      clearTimeout(waiting);
      this.advice.set(null);
      waiting = setTimeout(() => this.later.ask({ ...asked, task: 'advice' }, document, this.project), ADVICE_AFTER_MS);
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(waiting);
      this.now.close();
      this.later.close();
    });
  }

  /** The worst answers of devices, while the bench runs on the real plant. */
  private measured(): RealAnswers {
    const devices = this.live.onRealPlant() ? this.counters().values() : [];
    return Object.fromEntries([...devices].flatMap(({ id, worstMs }) => (worstMs ? [[id, worstMs]] : [])));
  }

  private take(answer: ForecastAnswer): void {
    if (answer.task === 'advice') return this.advice.set(answer.advice);
    this.base.set(answer.base);
    this.other.set(answer.other);
    this.tookMs.set(answer.tookMs);
  }
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

  ask(asked: Asked, document: ProjectDocument, project: ProjectStore): void {
    if (this.busy) {
      this.next = () => this.ask(asked, document, project);
      return;
    }
    this.busy = true;
    const edit = project.lastEdit();
    const isNext = edit && edit.from === this.sent && project.document() === document;
    const what = document === this.sent ? { changes: [] } : isNext ? { changes: edit.changes } : { document };
    this.worker.postMessage({ serial: ++this.serial, ...asked, ...what } satisfies ForecastRequest);
    this.sent = document;
  }

  close(): void {
    this.worker.terminate();
  }
}
