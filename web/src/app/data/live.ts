import { computed, inject, Injectable, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { ErrandRun } from '@plain-envoy/core/errand';
import { auditTime, filter, merge, retry, Subject, switchMap, take, tap, timer } from 'rxjs';
import { webSocket, type WebSocketSubject } from 'rxjs/webSocket';
import {
  type Accepted,
  type BenchState,
  type Counters,
  type DatabaseHealth,
  FeedReader,
  idleBench,
  type Reading,
  type RouteState,
  type Settled,
  type Tally,
  type ToPage,
} from '@plain-envoy/core/feed';
import { FeedTopic } from './feed-topic';
import { Session } from './session';
import { Rates } from './rates';

const RECONNECT_MS = 1000;
/** What several parts of the page begin to look at together is asked for at once. */
const GATHER_MS = 20;

function settledText({ label, saved }: Settled): string {
  return saved
    ? `The database is back. “${label}”, of which it was not known, was saved.`
    : `The database is back. “${label}”, of which it was not known, was not saved: do it again.`;
}

/** What is true now: the live feed of the server. Rows come for those who look at them. */
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

  readonly points = new FeedTopic<Reading>(({ pointId }) => pointId);
  readonly routes = new FeedTopic<RouteState>(({ routeId }) => routeId);
  readonly devices = new FeedTopic<Counters>(({ id }) => id);
  readonly requests = new FeedTopic<Counters>(({ id }) => id);
  /** How many routes of the running plan fare how. */
  readonly tally = signal<Tally>({});

  private readonly topics = { points: this.points, routes: this.routes, devices: this.devices, requests: this.requests };
  private readonly rates = new Rates();
  private reader = new FeedReader();
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
    merge(...Object.values(this.topics).map(({ looks }) => looks))
      .pipe(auditTime(GATHER_MS))
      .subscribe(() => this.connected() && this.sendWatch());
    this.socket
      .pipe(
        tap((message) => this.take(message as ToPage)),
        // Before somebody has signed in it would be refused.
        retry({ delay: () => timer(RECONNECT_MS).pipe(switchMap(() => allowed.pipe(filter(Boolean), take(1)))), resetOnSuccess: true }),
      )
      .subscribe();
  }

  private opened(): void {
    this.connected.set(true);
    if (this.wasConnected) this.returned.next();
    this.wasConnected = true;
    this.reader = new FeedReader();
    this.forget();
    this.sendWatch();
  }

  /** Exchanges a second with a device that is looked at, as of the last seconds. */
  rate(deviceId: string): number {
    return this.rates.of(deviceId, this.now());
  }

  private sendWatch(): void {
    const { points, routes, devices, requests } = this.topics;
    const lists = { points: points.wanted(), routes: routes.wanted(), devices: devices.wanted(), requests: requests.wanted() };
    this.socket.next(this.reader.watch(lists));
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
      case 'values': {
        const { readings, routes, devices, requests } = this.reader.read(message);
        this.now.set(Date.now());
        this.rates.take(devices, Date.now());
        this.points.take(readings);
        this.routes.take(routes);
        this.devices.take(devices);
        this.requests.take(requests);
        if (message.tally) this.tally.set(message.tally);
        break;
      }
    }
  }

  private forget(): void {
    this.rates.clear();
    this.tally.set({});
    for (const topic of Object.values(this.topics)) topic.forget();
  }
}
