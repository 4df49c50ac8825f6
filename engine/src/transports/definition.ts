import type { ClientTransport } from '../links/index.js';
import type { Responder, SocketServer, SocketServerOptions } from '../server/index.js';

/** How devices are spoken to over a socket, and how they answer there. */
export interface SocketTransport {
  client(host: string, port: number): ClientTransport;
  server(respond: Responder, options: SocketServerOptions): SocketServer;
}
