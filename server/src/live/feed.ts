import type { WebSocket } from '@fastify/websocket';
import {
  type Batch,
  type Counters,
  type FeedKind,
  feedKinds,
  FromPage,
  type Looked,
  type Reading,
  type ToPage,
  type Watch,
} from '@plain-envoy/core/feed';
import { schemaProblem } from '@plain-envoy/core/outcome';
import { type Look, nothing, Topic } from './topic.js';

const FLUSH_MS = 100;
/** Counters are told with each so many flushes: nobody reads them faster. */
const FLUSHES: Readonly<Record<FeedKind, number>> = { points: 1, routes: 1, devices: 5, requests: 5 };
/** A page that has this much unread gets nothing new until it has caught up; then it gets what is true at that moment. */
const UNREAD_BYTES = 256 * 1024;

/** A page that looks: at what since which watch, and what it has been told of the routes together. */
interface Page {
  socket: WebSocket;
  watch: number;
  looks: Record<FeedKind, Look>;
  tally: string;
}

/**
 * The live feed: to each page what it looks at, at most ten times a second. For a slow page intermediate values are left out;
 * counters are totals, so that none is ever lost.
 */
export class LiveFeed {
  private readonly pages = new Set<Page>();
  private readonly topics = {
    points: new Topic('points'),
    routes: new Topic('routes'),
    devices: new Topic('devices'),
    requests: new Topic('requests'),
  };
  private tally = '{}';
  private flushes = 0;
  private readonly timer = setInterval(() => this.flush(), FLUSH_MS);

  constructor(private readonly onWatch: (looked: Looked) => void) {}

  /** Adds a page; `greeting` is said first, so that it knows how things stand. */
  join(socket: WebSocket, greeting: readonly ToPage[]): void {
    const page: Page = { socket, watch: 0, looks: { points: nothing, routes: nothing, devices: nothing, requests: nothing }, tally: '{}' };
    this.pages.add(page);
    for (const message of greeting) socket.send(JSON.stringify(message));
    socket.on('message', (data: Buffer) => this.heard(page, data.toString()));
    socket.on('close', () => {
      this.pages.delete(page);
      for (const kind of feedKinds) this.topics[kind].leave(page.looks[kind]);
      this.tellWatch();
    });
    socket.on('error', () => socket.terminate());
  }

  /** How many pages look. */
  get pageCount(): number {
    return this.pages.size;
  }

  /** Told to every page at once, however slow it is. */
  tell(message: ToPage): void {
    const text = JSON.stringify(message);
    for (const { socket } of this.pages) socket.send(text);
  }

  batch({ readings, routes, devices, requests, tally }: Batch): void {
    this.topics.points.take(readings);
    this.topics.routes.take(routes);
    this.topics.devices.take(devices);
    this.topics.requests.take(requests);
    if (tally) this.tally = JSON.stringify(tally);
  }

  /** Why a route does not deliver just now; null where it does, or where nothing is known. */
  reason(routeId: string): string | null {
    const state = this.topics.routes.get(routeId);
    return state && state.quality !== 'good' ? state.reason : null;
  }

  /** What a point held when it was last read. */
  reading(pointId: string): Reading | undefined {
    return this.topics.points.get(pointId);
  }

  /** How a device fares. */
  device(id: string): Counters | undefined {
    return this.topics.devices.get(id);
  }

  /** How a request of the plan fares. */
  request(id: string): Counters | undefined {
    return this.topics.requests.get(id);
  }

  /** Looks at these without being a page, until the answer is called: so that they can be asked for here. */
  look(lists: Partial<Looked>): () => void {
    const kinds = Object.keys(lists) as (keyof Looked)[];
    const looks = kinds.map((kind) => this.topics[kind].look(nothing, lists[kind]!));
    this.tellWatch();
    return () => {
      kinds.forEach((kind, index) => this.topics[kind].leave(looks[index]!));
      this.tellWatch();
    };
  }

  /** Of these alone is told; what was known of others grows old and is forgotten. */
  keep({ points, routes, requests }: Looked): void {
    this.topics.points.keep(points);
    this.topics.routes.keep(routes);
    this.topics.requests.keep(requests);
  }

  /** A new run starts from nothing. */
  clear(): void {
    for (const kind of feedKinds) this.topics[kind].forget();
    this.tally = '{}';
    for (const page of this.pages) page.tally = this.tally;
  }

  end(): void {
    clearInterval(this.timer);
    for (const { socket } of this.pages) socket.close(1001, 'The server is stopping.');
  }

  private heard(page: Page, text: string): void {
    let message: unknown;
    try {
      message = JSON.parse(text);
    } catch {
      return page.socket.close(1007, 'This is no JSON.');
    }
    const parsed = FromPage.safeParse(message);
    if (!parsed.success) return page.socket.close(1008, schemaProblem(parsed.error).message.slice(0, 120));
    this.watches(page, parsed.data.watch);
  }

  private watches(page: Page, watch: Watch): void {
    page.watch = watch.number;
    for (const kind of feedKinds) page.looks[kind] = this.topics[kind].look(page.looks[kind], watch[kind]);
    this.tellWatch();
    this.send(page, feedKinds);
  }

  private tellWatch(): void {
    const { points, routes, requests } = this.topics;
    this.onWatch({ points: points.looked(), routes: routes.looked(), requests: requests.looked() });
  }

  private flush(): void {
    this.flushes += 1;
    const kinds = feedKinds.filter((kind) => this.flushes % FLUSHES[kind] === 0);
    for (const page of this.pages) this.send(page, kinds);
  }

  private send(page: Page, kinds: readonly FeedKind[]): void {
    if (page.socket.bufferedAmount > UNREAD_BYTES) return;
    const parts = kinds.flatMap((kind) => {
      const rows = this.topics[kind].told(page.looks[kind]);
      return rows === null ? [] : [`"${kind}":${rows}`];
    });
    if (page.tally !== this.tally) parts.push(`"tally":${(page.tally = this.tally)}`);
    if (parts.length) page.socket.send(`{"type":"values","watch":${page.watch},${parts.join()}}`);
  }
}
