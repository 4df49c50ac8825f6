import { createServer, type Server, type Socket } from 'node:net';
import type { Spoil } from './spoil.js';
import { inBackground } from '../background/index.js';

export interface SocketServerOptions {
  host: string;
  port: number;
  /** Clients served at a time; further ones are refused by closing their connection. */
  connections: number;
  spoil?: Spoil;
}

/** What every server on a socket shares: listening, counting its clients, and leaving nothing open when it stops. */
export abstract class SocketServer {
  private readonly sockets = new Set<Socket>();
  protected readonly spoil: Spoil | undefined;
  private readonly abandoned = new Set<Socket>();
  private server: Server | null = null;

  constructor(private readonly options: SocketServerOptions) {
    this.spoil = options.spoil;
  }

  /** Answers what comes over this connection; what it returns resolves when all that was asked is answered. */
  protected abstract serve(socket: Socket): () => Promise<unknown>;

  /** Rejects with the system's error where the address cannot be listened on. */
  start(): Promise<void> {
    return new Promise((listening, failed) => {
      const server = createServer({ noDelay: true, keepAlive: true, allowHalfOpen: true }, (socket) => this.accept(socket));
      server.once('error', failed);
      server.listen(this.options.port, this.options.host, () => {
        server.off('error', failed);
        this.server = server;
        listening();
      });
    });
  }

  /** The port that it listens on; useful where 0 was asked for. */
  get port(): number {
    const address = this.server?.address();
    return typeof address === 'object' && address ? address.port : this.options.port;
  }

  async stop(): Promise<void> {
    const server = this.server;
    this.server = null;
    for (const socket of [...this.sockets, ...this.abandoned]) socket.destroy();
    this.abandoned.clear();
    if (server) await new Promise<void>((closed) => server.close(() => closed()));
  }

  /** Hears nothing more from those who are connected, and lets them wait: as when the other side is gone without a word. */
  abandon(): void {
    for (const socket of this.sockets) {
      socket.removeAllListeners('data');
      socket.pause();
      this.sockets.delete(socket);
      this.abandoned.add(socket);
    }
  }

  private accept(socket: Socket): void {
    if (this.sockets.size >= this.options.connections) {
      socket.destroy();
      return;
    }
    this.sockets.add(socket);
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.sockets.delete(socket));
    const settled = this.serve(socket);
    // Who asks nothing more still waits for what was asked.
    socket.on('end', () => inBackground(settled().then(() => socket.end())));
  }
}
