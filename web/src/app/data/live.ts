import { computed, inject, Injectable, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { ErrandRun } from '@plain-envoy/core/errand';
import { filter, retry, Subject, switchMap, take, tap, timer } from 'rxjs';
import { webSocket, type WebSocketSubject } from 'rxjs/webSocket';
import {
  type Accepted,
  type BenchState,
  type Counters,
  type DatabaseHealth,
  idleBench,
  type ToPage,
  type Reading,
  type RouteState,
  type Settled,
} from '@plain-envoy/core/feed';
import { Session } from './session';
import { Rates } from './rates';

const RECONNECT_MS = 1000;

function settledText({ label, saved }: Settled): string {
  return saved
    ? `The database is back. “${label}”, of which it was not known, was saved.`
    : `The database is back. “${label}”, of which it was not known, was not saved: do it again.`;
}

/** What is true now: the live feed of the server, as signals. Values arrive in batches; each batch is one change of `version`. */
@Injectable({ providedIn: 'root' })
export class Live {
  readonly connected = signal(false);
  readonly bench = signal<BenchState>(idleBench);
  readonly database = signal<DatabaseHealth>({ ok: true });
  /** Why the stand-ins are not set as the project is; null when they are. */
  readonly standInsProblem = signal<string | null>(null);
  /** Runs of errands that were seen to go on, by id. */
  readonly errandRuns = signal<ReadonlyMap<string, ErrandRun>>(new Map());
  readonly accepted = new Subject<Accepted>();
  /** What everybody has to know, in a sentence. */
  readonly told = new Subject<string>();
  /** Fires when the connection is there again after it was lost, when edits may have been missed. */
  readonly returned = new Subject<void>();
  /** The time by this machine's clock, moved on with each batch, for ages. */
  readonly now = signal(Date.now());

  private readonly version = signal(0);
  private readonly readings = new Map<string, Reading>();
  private readonly routes = new Map<string, RouteState>();
  private readonly devices = new Map<string, Counters>();
  private readonly requests = new Map<string, Counters>();
  private readonly rates = new Rates();
  private readonly watches = new Map<object, readonly string[]>();
  private readonly socket: WebSocketSubject<unknown>;
  private wasConnected = false;
  readonly running = computed(() => this.bench().running);
  /** Whether the bench runs on the plant itself, where stand-ins play no part. */
  readonly onRealPlant = computed(() => this.running() && this.bench().on === 'real');

  constructor() {
    const session = inject(Session);
    const allowed = toObservable(computed(() => !session.asks()));
    setInterval(() => this.now.set(Date.now()), 500);
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws';
    this.socket = webSocket<unknown>({
      url: `${scheme}://${location.host}/api/live`,
      openObserver: { next: () => this.opened() },
      closeObserver: { next: () => this.connected.set(false) },
    });
    this.socket
      .pipe(
        tap((message) => this.take(message as ToPage)),
        // Before somebody has signed in it would be refused.
        retry({ delay: () => timer(RECONNECT_MS).pipe(switchMap(() => allowed.pipe(filter(Boolean), take(1)))), resetOnSuccess: true }),
      )
      .subscribe();
  }

  reading(pointId: string): Reading | undefined {
    this.version();
    return this.readings.get(pointId);
  }

  route(routeId: string): RouteState | undefined {
    this.version();
    return this.routes.get(routeId);
  }

  device(deviceId: string): Counters | undefined {
    this.version();
    return this.devices.get(deviceId);
  }

  /** How a request of the plan fares. */
  request(requestId: string): Counters | undefined {
    this.version();
    return this.requests.get(requestId);
  }

  /** Names the points that `who` looks at; an empty list ends it. */
  watch(who: object, pointIds: readonly string[]): void {
    if (pointIds.length) this.watches.set(who, pointIds);
    else if (!this.watches.delete(who)) return;
    if (this.connected()) this.sendWatch();
  }

  private opened(): void {
    this.connected.set(true);
    if (this.wasConnected) this.returned.next();
    this.wasConnected = true;
    this.forget();
    this.sendWatch();
  }

  /** Exchanges a second with a device, as of the last seconds. */
  rate(deviceId: string): number {
    this.version();
    return this.rates.of(deviceId, this.now());
  }

  private sendWatch(): void {
    this.socket.next({ watch: [...new Set([...this.watches.values()].flat())] });
  }

  private take(message: ToPage): void {
    switch (message.type) {
      case 'bench':
        if (message.bench.running && message.bench.sinceMs !== this.bench().sinceMs) this.forget();
        this.bench.set(message.bench);
        break;
      case 'database':
        // What was not there to be loaded is there now.
        if (message.database.ok && !this.database().ok) this.returned.next();
        this.database.set(message.database);
        break;
      case 'errand':
        this.errandRuns.update((runs) => new Map(runs).set(message.run.id, message.run));
        break;
      case 'stand-ins':
        this.standInsProblem.set(message.problem);
        break;
      case 'settled':
        this.told.next(settledText(message.settled));
        break;
      case 'trouble':
        this.told.next(message.message);
        break;
      case 'changed':
        this.accepted.next(message.accepted);
        break;
      case 'values':
        for (const row of message.readings) this.readings.set(row.pointId, row);
        for (const row of message.routes) this.routes.set(row.routeId, row);
        for (const row of message.devices) this.devices.set(row.id, row);
        for (const row of message.requests) this.requests.set(row.id, row);
        this.rates.take(message.devices, Date.now());
        this.now.set(Date.now());
        this.version.update((version) => version + 1);
        break;
    }
  }

  private forget(): void {
    for (const map of [this.readings, this.routes, this.devices, this.requests, this.rates]) map.clear();
    this.version.update((version) => version + 1);
  }
}
