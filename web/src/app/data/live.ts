import { inject, Injectable } from '@angular/core';
import type { ErrandRun } from '@plain-envoy/core/errand';
import { auditTime, BehaviorSubject, filter, interval, merge, type Observable, retry, Subject, switchMap, take, tap, timer } from 'rxjs';
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
import { PROJECT_ID } from './project-id';
import { Session } from './session';
import { Rates } from './rates';
import { derived } from './state';

const RECONNECT_MS = 1000;
const RECONNECT_AT_MOST_MS = 8000;
const TICK_MS = 500;
/** What several parts of the page begin to look at together is asked for at once. */
const GATHER_MS = 20;

/** Until the next try, after so many that failed one after the other. */
function waitMs(tries: number): number {
  return Math.min(RECONNECT_MS * 2 ** (tries - 1), RECONNECT_AT_MOST_MS);
}

function settledText({ label, saved }: Settled): string {
  return saved
    ? `The database is back. “${label}”, of which it was not known, was saved.`
    : `The database is back. “${label}”, of which it was not known, was not saved: do it again.`;
}

/** What is true now: the live feed of the server. Rows come for those who look at them. */
@Injectable({ providedIn: 'root' })
export class Live {
  private readonly state = {
    connected: new BehaviorSubject(false),
    bench: new BehaviorSubject<BenchState>(idleBench),
    database: new BehaviorSubject<DatabaseHealth>({ ok: true }),
    standInsProblem: new BehaviorSubject<string | null>(null),
    standInsPort: new BehaviorSubject<number | null>(null),
    errandRuns: new BehaviorSubject<ReadonlyMap<string, ErrandRun>>(new Map()),
    tally: new BehaviorSubject<Tally>({}),
    now: new BehaviorSubject(Date.now()),
  };
  private readonly edits = new Subject<Accepted>();
  private readonly news = new Subject<string>();
  private readonly returns = new Subject<void>();

  readonly connected$: Observable<boolean> = this.state.connected;
  readonly bench$: Observable<BenchState> = this.state.bench;
  readonly database$: Observable<DatabaseHealth> = this.state.database;
  /** Why the stand-ins are not set as the project is; null when they are. */
  readonly standInsProblem$: Observable<string | null> = this.state.standInsProblem;
  /** Where they listen in the place of TCP port 502; null before it is known. */
  readonly standInsPort$: Observable<number | null> = this.state.standInsPort;
  /** Runs of errands that were seen to go on, by id. */
  readonly errandRuns$: Observable<ReadonlyMap<string, ErrandRun>> = this.state.errandRuns;
  /** How many routes of the running plan fare how. */
  readonly tally$: Observable<Tally> = this.state.tally;
  /** The time by this machine's clock, moved on with each batch, for ages. */
  readonly now$: Observable<number> = this.state.now;
  readonly running$ = derived(this.bench$, ({ running }) => running);
  /** Whether the bench runs on the plant itself, where stand-ins play no part. */
  readonly onRealPlant$ = derived(this.bench$, ({ running, on }) => running && on === 'real');
  /** Edits, whoever made them. */
  readonly accepted$: Observable<Accepted> = this.edits;
  /** What everybody has to know, in a sentence. */
  readonly told$: Observable<string> = this.news;
  /** Fires when the connection is there again after it was lost, when edits may have been missed. */
  readonly returned$: Observable<void> = this.returns;

  readonly points = new FeedTopic<Reading>(({ pointId }) => pointId);
  readonly routes = new FeedTopic<RouteState>(({ routeId }) => routeId);
  readonly devices = new FeedTopic<Counters>(({ id }) => id);
  readonly requests = new FeedTopic<Counters>(({ id }) => id);

  private readonly topics = { points: this.points, routes: this.routes, devices: this.devices, requests: this.requests };
  private readonly rates = new Rates();
  private reader = new FeedReader();
  private readonly socket: WebSocketSubject<unknown>;
  private wasConnected = false;
  constructor() {
    const { asks$ } = inject(Session);
    interval(TICK_MS).subscribe(() => this.state.now.next(Date.now()));
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws';
    this.socket = webSocket<unknown>({
      url: `${scheme}://${location.host}/api/projects/${inject(PROJECT_ID)}/live`,
      openObserver: { next: () => this.opened() },
      closeObserver: { next: () => this.state.connected.next(false) },
    });
    merge(...Object.values(this.topics).map(({ looks }) => looks))
      .pipe(auditTime(GATHER_MS))
      .subscribe(() => this.state.connected.value && this.sendWatch());
    this.socket
      .pipe(
        tap((message) => this.take(message as ToPage)),
        // Before somebody has signed in it would be refused.
        retry({
          delay: (_error, tries) =>
            timer(waitMs(tries)).pipe(
              switchMap(() =>
                asks$.pipe(
                  filter((asks) => !asks),
                  take(1),
                ),
              ),
            ),
          resetOnSuccess: true,
        }),
      )
      .subscribe();
  }

  /** As it is at this moment. */
  get bench(): BenchState {
    return this.state.bench.value;
  }

  /** A person has changed it, and this is how it is now. */
  benchIs(state: BenchState): void {
    this.state.bench.next(state);
  }

  private opened(): void {
    if (this.wasConnected) this.returns.next();
    this.wasConnected = true;
    this.reader = new FeedReader();
    this.forget();
    this.state.connected.next(true);
    this.sendWatch();
  }

  /** Exchanges a second with a device that is looked at, as of the last seconds. */
  rate(deviceId: string): number {
    return this.rates.of(deviceId, this.state.now.value);
  }

  private sendWatch(): void {
    const { points, routes, devices, requests } = this.topics;
    const lists = { points: points.wanted(), routes: routes.wanted(), devices: devices.wanted(), requests: requests.wanted() };
    this.socket.next(this.reader.watch(lists));
  }

  private take(message: ToPage): void {
    switch (message.type) {
      case 'bench':
        if (message.bench.running && message.bench.sinceMs !== this.bench.sinceMs) this.forget();
        this.state.bench.next(message.bench);
        break;
      case 'database':
        // What was not there to be loaded is there now.
        if (message.database.ok && !this.state.database.value.ok) this.returns.next();
        this.state.database.next(message.database);
        break;
      case 'errand':
        this.state.errandRuns.next(new Map(this.state.errandRuns.value).set(message.run.id, message.run));
        break;
      case 'stand-ins':
        this.state.standInsProblem.next(message.problem);
        this.state.standInsPort.next(message.port);
        break;
      case 'settled':
        this.news.next(settledText(message.settled));
        break;
      case 'trouble':
        this.news.next(message.message);
        break;
      case 'changed':
        this.edits.next(message.accepted);
        break;
      case 'values': {
        const { readings, routes, devices, requests } = this.reader.read(message);
        this.state.now.next(Date.now());
        this.rates.take(devices, Date.now());
        this.points.take(readings);
        this.routes.take(routes);
        this.devices.take(devices);
        this.requests.take(requests);
        if (message.tally) this.state.tally.next(message.tally);
        break;
      }
    }
  }

  private forget(): void {
    this.rates.clear();
    this.state.tally.next({});
    for (const topic of Object.values(this.topics)) topic.forget();
  }
}
