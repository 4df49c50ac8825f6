import type { ListenedText } from '@plain-envoy/core/feed';
import type { Endpoint } from '@plain-envoy/core/plan';
import type { ClientTransport, Frames } from '../links/index.js';

/** Opens the way to an endpoint. */
export type OpenEndpoint = (endpoint: Endpoint) => ClientTransport;

export interface Connection {
  endpoint: Endpoint;
  transport: ClientTransport;
  /** When each of the questions that are open was sent, in ms of `performance.now()`. */
  open: Set<{ sentAt: number }>;
}

/** The open ways to the endpoints of a plan. */
export class Connections {
  private readonly byId = new Map<string, Connection>();

  constructor(
    private readonly open: OpenEndpoint,
    private readonly heard: {
      stray(endpoint: Endpoint, frame: Uint8Array, afterMs: number | null): void;
      probe(endpoint: Endpoint, frames: Frames, ms: number): void;
      text(endpoint: Endpoint, bytes: Uint8Array, way: 'heard' | 'sent'): void;
    },
  ) {}

  has(endpointId: string): boolean {
    return this.byId.has(endpointId);
  }

  /** The connection to an endpoint of the list that was followed last. */
  to(endpointId: string): Connection {
    return this.byId.get(endpointId)!;
  }

  texts(): ListenedText[] {
    return [...this.byId.values()].flatMap(({ transport }) => transport.texts?.() ?? []);
  }

  endpoints(): Endpoint[] {
    return [...this.byId.values()].map(({ endpoint }) => endpoint);
  }

  /** Opens what is new, and closes what is gone or reached otherwise than before; `onGone` hears of it just before. */
  follow(endpoints: readonly Endpoint[], onGone: (endpointId: string) => void): void {
    const wanted = new Map(endpoints.map((endpoint) => [endpoint.id, endpoint]));
    for (const [id, connection] of this.byId) {
      const next = wanted.get(id);
      if (next && JSON.stringify(next) === JSON.stringify(connection.endpoint)) continue;
      onGone(id);
      connection.transport.close();
      this.byId.delete(id);
    }
    for (const endpoint of wanted.values()) {
      if (this.byId.has(endpoint.id)) continue;
      const transport = this.open(endpoint);
      transport.onStray = (frame, afterMs) => this.heard.stray(endpoint, frame, afterMs);
      transport.onProbe = (frames, ms) => this.heard.probe(endpoint, frames, ms);
      transport.onText = (bytes, way) => this.heard.text(endpoint, bytes, way);
      this.byId.set(endpoint.id, { endpoint, transport, open: new Set() });
    }
  }

  close(): void {
    for (const { transport } of this.byId.values()) transport.close();
    this.byId.clear();
  }
}
