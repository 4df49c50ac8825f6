import type { Batch, Counters, Reading, RouteState, ToPage } from '@plain-envoy/core/feed';
import type { WebSocket } from '@fastify/websocket';
import { z } from 'zod';
import { schemaProblem } from '@plain-envoy/core/outcome';

/** What a page tells the server: which points of its project it looks at now. */
const FromPage = z.strictObject({ watch: z.array(z.uuid()).max(50_000) });

const FLUSH_MS = 100;
/** A page that has this much unread gets nothing new until it has caught up; then it gets what is true at that moment. */
const UNREAD_BYTES = 256 * 1024;

/** A page that looks: the points that it named, and what of the rest it has not been told yet. */
interface Page {
  socket: WebSocket;
  watch: ReadonlySet<string>;
  readings: Set<string>;
  routes: Set<string>;
  devices: Set<string>;
  requests: Set<string>;
}

/**
 * The live feed: values to those who look at them, at most ten batches a second. For a slow page intermediate values are
 * left out; counters are totals, so that none is ever lost.
 */
export class LiveFeed {
  private readonly pages = new Set<Page>();
  private readonly readings = new Map<string, Reading>();
  private readonly routes = new Map<string, RouteState>();
  private readonly devices = new Map<string, Counters>();
  private readonly requests = new Map<string, Counters>();
  /** Rows are never changed once they are here. */
  private readonly texts = new WeakMap<object, string>();
  private readonly timer = setInterval(() => this.flush(), FLUSH_MS);

  constructor(private readonly onWatch: (pointIds: ReadonlySet<string>) => void) {}

  /** Adds a page; `greeting` is said first, so that it knows how things stand. */
  join(socket: WebSocket, greeting: readonly ToPage[]): void {
    const page: Page = {
      socket,
      watch: new Set(),
      readings: new Set(),
      routes: new Set(this.routes.keys()),
      devices: new Set(this.devices.keys()),
      requests: new Set(this.requests.keys()),
    };
    this.pages.add(page);
    for (const message of greeting) socket.send(JSON.stringify(message));
    socket.on('message', (data: Buffer) => this.heard(page, data.toString()));
    socket.on('close', () => {
      this.pages.delete(page);
      this.lookAgain();
    });
    socket.on('error', () => socket.terminate());
  }

  /** Told to every page at once, however slow it is. */
  tell(message: ToPage): void {
    const text = JSON.stringify(message);
    for (const { socket } of this.pages) socket.send(text);
  }

  batch({ readings, routes, devices, requests }: Batch): void {
    for (const row of readings) this.readings.set(row.pointId, row);
    for (const row of routes) this.routes.set(row.routeId, row);
    for (const row of devices) this.devices.set(row.id, row);
    for (const row of requests) this.requests.set(row.id, row);
    for (const page of this.pages) {
      for (const row of readings) if (page.watch.has(row.pointId)) page.readings.add(row.pointId);
      for (const row of routes) page.routes.add(row.routeId);
      for (const row of devices) page.devices.add(row.id);
      for (const row of requests) page.requests.add(row.id);
    }
  }

  /** Why a route does not deliver just now; null where it does, or where nothing is known. */
  reason(routeId: string): string | null {
    const state = this.routes.get(routeId);
    return state && state.quality !== 'good' ? state.reason : null;
  }

  /** What a point held when it was last read. */
  reading(pointId: string): Reading | undefined {
    return this.readings.get(pointId);
  }

  /** How a device fares. */
  device(id: string): Counters | undefined {
    return this.devices.get(id);
  }

  /** How a request of the plan fares. */
  request(id: string): Counters | undefined {
    return this.requests.get(id);
  }

  /** A new run starts from nothing. */
  clear(): void {
    for (const map of [this.readings, this.routes, this.devices, this.requests]) map.clear();
    for (const page of this.pages) for (const set of [page.readings, page.routes, page.devices, page.requests]) set.clear();
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
    page.watch = new Set(parsed.data.watch);
    for (const id of page.watch) if (this.readings.has(id)) page.readings.add(id);
    this.lookAgain();
  }

  private lookAgain(): void {
    this.onWatch(new Set([...this.pages].flatMap((page) => [...page.watch])));
  }

  private flush(): void {
    for (const page of this.pages) {
      const { socket, readings, routes, devices, requests } = page;
      if (readings.size + routes.size + devices.size + requests.size === 0 || socket.bufferedAmount > UNREAD_BYTES) continue;
      const parts = [
        `"readings":${this.take(readings, this.readings)}`,
        `"routes":${this.take(routes, this.routes)}`,
        `"devices":${this.take(devices, this.devices)}`,
        `"requests":${this.take(requests, this.requests)}`,
      ];
      socket.send(`{"type":"values",${parts.join()}}`);
    }
  }

  /** These rows as JSON. Each row is written out once, however many pages get it. */
  private take(ids: Set<string>, from: ReadonlyMap<string, object>): string {
    const rows = [...ids].flatMap((id) => {
      const row = from.get(id);
      return row ? this.textOf(row) : [];
    });
    ids.clear();
    return `[${rows.join()}]`;
  }

  private textOf(row: object): string {
    const known = this.texts.get(row);
    if (known !== undefined) return known;
    const text = JSON.stringify(row);
    this.texts.set(row, text);
    return text;
  }
}
