import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import { timeOfBus } from '@plain-envoy/core/can-line';
import { type Advice, asItIs, isLate, isSlow, type LaneForecast, whatIfChanges } from '@plain-envoy/core/forecast';
import type { Change } from '@plain-envoy/core/model';
import type { PlannedRequest } from '@plain-envoy/core/plan';
import { v7 as newId } from 'uuid';
import { Editor } from '../../data/editor';
import { Forecasts } from '../../data/forecasts';
import { rowsFor } from '../../data/feed-topic';
import { Live } from '../../data/live';
import { PlanStore } from '../../data/plan';
import { ProjectStore } from '../../data/project';
import { atEdge } from '../../data/state';
import { Actions } from '../../parts/actions';
import { AgeTable } from './age-table';
import { BusTimes } from './bus-times';
import { Gantt, type GanttRow, type GanttSpan } from './gantt';
import { RequestTable, requestName } from './request-table';
import { RoundTable } from './round-table';
import { RoundTrip } from './round-trip';
import { changeText, msText, percentText, periodText } from './round-words';
import { WhatIfBar } from './what-if-bar';
import { asOptions, Choose } from '../../parts/choose';
import { MatTabsModule } from '@angular/material/tabs';

/** Above this part of its time a line has no room left for retries. */
const FULL = 0.85;
/** Above this part of its time a bus of CAN has none left for what is sent again. */
const FULL_BUS = 0.7;
/** A request has its last runs told; looking this often misses none of most. */
const LOOK_EACH_MS = 500;
const windows = [1000, 2000, 5000, 20_000];
const tabs = [
  { key: 'requests', name: 'Requests' },
  { key: 'ages', name: 'Values' },
  { key: 'rounds', name: 'Rounds' },
  { key: 'trip', name: 'Round-trip time' },
] as const;
type Tab = (typeof tabs)[number]['key'];

/** The plan in time: what each line carries when, which period is really reached, how old values are, and what would change it. */
@Component({
  selector: 'pe-rounds',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AgeTable, BusTimes, Choose, Gantt, MatButtonModule, MatTabsModule, RequestTable, RoundTable, RoundTrip, WhatIfBar],
  providers: [Forecasts],
  templateUrl: './rounds.html',
  styleUrl: './rounds.scss',
})
export class RoundsScreen {
  private readonly router = inject(Router);
  private readonly editor = inject(Editor);
  private readonly store = inject(ProjectStore);
  private readonly project = atEdge(this.store, 'document', 'devices');
  private readonly feed = inject(Live);
  protected readonly live = atEdge(this.feed, 'running', 'onRealPlant');
  private readonly plan = atEdge(inject(PlanStore), 'plan');
  private readonly reckoning = inject(Forecasts);
  protected readonly forecasts = atEdge(this.reckoning, 'whatIf', 'base', 'other', 'shown', 'advice');
  /** Which line is looked at, from the address: the id of the device that is dialled. */
  readonly line = input<string>();

  protected readonly tabs = tabs;
  protected readonly windowOptions = asOptions(windows, (ms) => `${ms / 1000} s`);
  protected readonly windowMs = signal(2000);
  protected readonly measured = signal(false);
  protected readonly shown = signal<Tab>('requests');
  protected readonly problem = signal<string | null>(null);

  /** Lines of CAN, which carry frames and no requests. */
  protected readonly buses = computed(() => {
    const document = this.project.document()!;
    return document.lines.flatMap(({ id, name, kind }) => {
      if (kind !== 'can') return [];
      const { load } = timeOfBus(document, id);
      return [{ id, name, text: percentText(load), isFull: load > FULL_BUS, width: Math.min(100, load * 100) }];
    });
  });
  protected readonly bus = computed(() => this.buses().find(({ id }) => id === this.line()) ?? null);
  /** The fullest first. */
  protected readonly lanes = computed(() => {
    const before = new Map(this.forecasts.base()?.forecast.lanes.map((lane) => [lane.id, lane]));
    const lanes = this.forecasts.shown()?.forecast.lanes ?? [];
    return [...lanes]
      .sort((a, b) => busyOf(b) - busyOf(a))
      .map((lane) => {
        const [was, now] = [percentText(busyOf(before.get(lane.id) ?? lane)), percentText(busyOf(lane))];
        const text = was === now ? now : `${was} → ${now}`;
        return { ...lane, text, isFull: busyOf(lane) > FULL, width: Math.min(100, busyOf(lane) * 100) };
      });
  });
  protected readonly tabsOfLines = computed(() => [...this.lanes(), ...this.buses()]);
  protected readonly laneId = computed(() => {
    const wanted = this.line();
    return this.lanes().find(({ id }) => id === wanted)?.id ?? this.lanes()[0]?.id ?? null;
  });
  protected readonly lane = computed(() => this.lanes().find(({ id }) => id === this.laneId()) ?? null);
  protected readonly requests = computed(
    () => this.forecasts.shown()?.requests.filter(({ endpointId }) => endpointId === this.laneId()) ?? [],
  );
  protected readonly chosenId = linkedSignal<string | null>(() => (this.laneId(), null));
  protected readonly roundNames = computed(() => new Map(this.project.document()!.rounds.map(({ id, name }) => [id, name])));
  protected readonly routeIds = computed(() => {
    const here = new Set(this.requests().map(({ id }) => id));
    const own = this.plan.plan().routes.filter(({ readId, writeId }) => here.has(readId) || here.has(writeId));
    return new Set(own.map(({ id }) => id));
  });
  protected readonly counts = computed((): Record<Tab, number | null> => ({
    requests: this.requests().length,
    ages: this.routeIds().size,
    rounds: this.roundNames().size,
    trip: null,
  }));
  protected readonly note = computed(() =>
    this.shown() === 'trip'
      ? ''
      : this.shown() === 'ages'
        ? 'age: from a change at the source until it is at the destination, ms'
        : 'periods from start to start, ms; before → after where something is supposed',
  );

  protected readonly headline = computed(() => {
    const shown = this.forecasts.shown();
    if (!shown) return '';
    const { horizonMs, requests } = shown.forecast;
    const slow = requests.filter(isSlow).length;
    const held = slow === 0 ? 'every period is kept' : `${slow} of ${requests.length} requests come more rarely than wished`;
    return `forecast over ${horizonMs / 1000} s · ${held} · ${this.outcome()}`;
  });

  /** Why the line is as busy as it is. */
  protected readonly why = computed(() => {
    const lane = this.lane();
    const shown = this.forecasts.shown();
    if (!lane || !shown) return '';
    const paces = new Map(shown.forecast.requests.map((row) => [row.id, row]));
    const loads = (of: (request: PlannedRequest) => string) => {
      const sums = new Map<string, number>();
      for (const request of this.requests()) {
        const load = paces.get(request.id)!.answeredMs / request.periodMs / lane.concurrent;
        sums.set(of(request), (sums.get(of(request)) ?? 0) + load);
      }
      return [...sums].sort((a, b) => b[1] - a[1]);
    };
    const rounds = loads(({ roundId }) => this.roundNames().get(roundId ?? '') ?? 'what is looked at');
    const devices = loads(({ deviceName }) => deviceName);
    const each = lane.concurrent === 1 ? 'one request at a time' : `${lane.concurrent} requests at a time`;
    const asked =
      lane.load > 1
        ? `is asked for ${percentText(lane.load)} of its time, so its periods cannot be kept`
        : `is ${percentText(lane.utilisation)} busy`;
    const most = rounds[0] ? `“${rounds[0][0]}” takes ${percentText(rounds[0][1])} of its time` : '';
    const device =
      devices[0] && devices.length > 1 ? `, and ${devices[0][0]} more than any other device, ${percentText(devices[0][1])}` : '';
    return `${lane.name}, ${each}, ${asked}. ${most}${device}.${this.shared(lane)}`;
  });

  /** Those that ask on a line without knowing of each other meet at the gateway. */
  private shared({ carriers }: LaneForecast): string {
    if (carriers.length < 2) return '';
    const name = (id: string | null) => (id === null ? 'Plain Envoy' : (this.project.devices().get(id)?.name ?? 'a device that is gone'));
    const shares = carriers.map(({ carrierId, load }) => `${name(carrierId)} ${percentText(load)}`).join(', ');
    const most = Math.max(...carriers.map(({ waitsMs }) => waitsMs));
    return ` ${carriers.length} carriers share it: ${shares}; one can find it taken by the other for up to ${Math.ceil(most)} ms.`;
  }

  private readonly counters = rowsFor(this.feed.devices, () => this.project.document()!.devices.map(({ id }) => id));
  /** Devices that the bench has found silent, and that are not supposed to be dead yet. */
  protected readonly silent = computed(() => {
    const dead = this.forecasts.whatIf().dead;
    const isSilent = (id: string) => ['no answer', 'damaged'].includes(this.counters().get(id)?.lastOutcome ?? '');
    return this.project
      .document()!
      .devices.filter(({ id }) => !dead.includes(id) && isSilent(id) && (this.counters().get(id)?.answered ?? 0) === 0);
  });

  protected supposeSilent(): void {
    const ids = this.silent().map(({ id }) => id);
    this.reckoning.suppose((now) => ({ ...now, dead: [...now.dead, ...ids] }));
  }

  /** What the suppositions come to. */
  private readonly outcome = computed(() => {
    const [base, other] = [this.forecasts.base(), this.forecasts.other()];
    if (!base) return '';
    const worst = (of: typeof base) => Math.max(0, ...of.forecast.routes.map(({ age }) => age?.worstMs ?? 0));
    const late = (of: typeof base) => of.forecast.routes.filter(isLate).length;
    const now = other ?? base;
    const lateText = other && late(base) !== late(other) ? `${late(base)} → ${late(other)}` : `${late(now)}`;
    return `worst age ${other ? changeText(worst(base), worst(other)) : msText(worst(base))} · ${lateText} past their limit`;
  });

  protected readonly advice = computed(() => this.forecasts.advice()?.slice(0, 2) ?? []);

  protected readonly ganttRows = computed((): GanttRow[] =>
    this.requests().map((request) => ({ id: request.id, label: requestName(request), hint: periodText(request.periodMs) })),
  );
  protected readonly ganttSpans = computed((): GanttSpan[] => {
    const shown = this.forecasts.shown();
    if (!shown) return [];
    const byId = new Map(this.requests().map((request) => [request.id, request]));
    const forecast = shown.forecast.spans.flatMap(({ id, releasedMs, fromMs, toMs, silentTries }): GanttSpan[] => {
      const request = byId.get(id);
      if (!request || silentTries === null || fromMs > this.windowMs()) return [];
      const what = requestName(request);
      const waits = fromMs > releasedMs ? ` after waiting ${Math.round(fromMs - releasedMs)} ms` : '';
      const text =
        silentTries > 0
          ? `${what}: no answer in ${Math.round(toMs - fromMs)} ms`
          : `${what}: ${(toMs - fromMs).toFixed(1)} ms from ${Math.round(fromMs)}${waits}`;
      const kind = silentTries > 0 ? 'silent' : request.kind === 'write' ? 'write' : 'read';
      return [{ rowId: id, releasedMs, fromMs, toMs, kind, text }];
    });
    return this.measured() ? [...forecast, ...this.measuredSpans()] : forecast;
  });

  private readonly asked = rowsFor(this.feed.requests, () => (this.measured() ? this.requests().map(({ id }) => id) : []));
  private readonly seen = signal<ReadonlyMap<string, readonly { fromMs: number; toMs: number }[]>>(new Map());

  /** What really ran of late, laid under the forecast so that the first request starts at the same place. */
  private readonly measuredSpans = computed((): GanttSpan[] => {
    const seen = this.seen();
    const first = this.requests().find(({ id }) => (seen.get(id)?.length ?? 0) > 1);
    const said = this.forecasts.shown()?.forecast.spans.find(({ id }) => id === first?.id);
    if (!first || !said) return [];
    const latest = Math.max(...[...seen.values()].flatMap((runs) => runs.map(({ toMs }) => toMs)));
    const anchor =
      seen.get(first.id)!.find(({ fromMs }) => fromMs > latest - this.windowMs() - first.periodMs) ?? seen.get(first.id)!.at(-1)!;
    const left = anchor.fromMs - said.fromMs;
    return this.requests().flatMap((request) =>
      (seen.get(request.id) ?? []).flatMap(({ fromMs, toMs }): GanttSpan[] => {
        if (fromMs < left || fromMs > left + this.windowMs()) return [];
        const text = `${requestName(request)}: measured ${(toMs - fromMs).toFixed(1)} ms`;
        return [{ rowId: request.id, releasedMs: fromMs - left, fromMs: fromMs - left, toMs: toMs - left, kind: 'measured', text }];
      }),
    );
  });

  constructor() {
    inject(Actions).offer({ 'rounds.measured': () => this.measured.update((on) => !on) });
    const looking = setInterval(() => untracked(() => this.look()), LOOK_EACH_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(looking));
  }

  /** Keeps what has run of late, for the chart. */
  private look(): void {
    if (!this.measured()) {
      if (this.seen().size) this.seen.set(new Map());
      return;
    }
    const oldest = Date.now() - 2 * Math.max(...windows);
    this.seen.update((before) => {
      const next = new Map<string, readonly { fromMs: number; toMs: number }[]>();
      for (const { id } of this.requests()) {
        const known = before.get(id)?.filter(({ fromMs }) => fromMs > oldest) ?? [];
        const last = known.at(-1)?.fromMs ?? -Infinity;
        const runs = this.asked().get(id)?.pace?.recent ?? [];
        next.set(id, [...known, ...runs.filter(({ fromMs }) => fromMs > last)]);
      }
      return next;
    });
  }

  protected names(devices: readonly { name: string }[]): string {
    return devices.map(({ name }) => name).join(', ');
  }

  protected show(laneId: string): void {
    void this.router.navigate([], { queryParams: { line: laneId }, replaceUrl: true });
  }

  /** Everything that is supposed, but the dead, becomes part of the project. */
  protected takeOver(): void {
    const changes = whatIfChanges(this.project.document()!, this.forecasts.whatIf(), () => newId());
    if (changes.length === 0) return;
    this.commit('Take over what was supposed', changes, () => this.reckoning.suppose(({ dead }) => ({ ...asItIs, dead })));
  }

  protected accept({ label, changes }: Advice): void {
    this.commit(label, changes);
  }

  private commit(label: string, changes: Change[], then: () => void = () => undefined): void {
    this.store.commit(label, changes).subscribe((answer) => {
      this.problem.set(answer.ok ? null : answer.problem.message);
      if (!answer.ok) return;
      this.editor.say(`${label}. Undo with Ctrl+Z.`);
      then();
    });
  }
}

/** How busy a line is, or how busy it is asked to be where that is more than it can. */
function busyOf({ utilisation, load }: LaneForecast): number {
  return load > 1 ? load : utilisation;
}
