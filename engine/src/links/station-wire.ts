import { once } from 'node:events';
import { connect, createServer, type Server, type Socket } from 'node:net';

/** One end of a connection of telecontrol, whoever began it. */
export interface WireEnd {
  connected(): void;
  disconnected(): void;
  hear(bytes: Uint8Array): void;
}

/** An address with its TCP port. */
export interface Where {
  host: string;
  port: number;
}

/** What both have: one connection at most, and what goes over it. */
abstract class Wire {
  private socket: Socket | null = null;

  constructor(protected readonly end: WireEnd) {}

  get isConnected(): boolean {
    return this.socket !== null;
  }

  send(bytes: Uint8Array): void {
    this.socket?.write(bytes);
  }

  /** Ends the connection, as a pulled plug does; who called calls again. */
  cut(): void {
    this.socket?.destroy();
    this.gone(this.socket);
  }

  protected take(socket: Socket): void {
    this.cut();
    this.socket = socket;
    socket.setNoDelay(true);
    socket.on('data', (bytes) => {
      if (this.socket === socket) this.end.hear(bytes);
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.gone(socket));
    this.end.connected();
  }

  private gone(socket: Socket | null): void {
    if (!socket || this.socket !== socket) return;
    this.socket = null;
    this.end.disconnected();
  }
}

/** An outstation's end: listens, and has the connection that came last. */
export class ListeningWire extends Wire {
  private server: Server | null = null;

  /** Port 0 takes any that is free. Rejects with the system's error where it is taken. */
  async start({ host, port }: Where): Promise<void> {
    const server = createServer((socket) => this.take(socket));
    this.server = server;
    server.listen(port, host);
    // One that is stopped meanwhile never listens.
    await Promise.race([once(server, 'listening'), once(server, 'close')]);
  }

  /** Where it listens; null where it does not. */
  get at(): Where | null {
    const address = this.server?.address();
    return address && typeof address === 'object' ? { host: address.address, port: address.port } : null;
  }

  stop(): void {
    this.server?.close();
    this.server = null;
    this.cut();
  }
}

/** How long who calls waits before it calls again, and for an answer. */
const [CALLS_EVERY_MS, GIVES_UP_MS] = [1000, 5000];

/** A control station's end: calls, and calls again where nobody answers or the connection was cut. */
export class CallingWire extends Wire {
  private timer: NodeJS.Timeout | null = null;
  private calling: Socket | null = null;
  private failure: string | null = null;

  /** `where` says each time whom to call; null while nobody is there. */
  constructor(
    end: WireEnd,
    private readonly where: () => Where | null,
  ) {
    super(end);
  }

  /** Why the last call came to nothing; null where it did not. */
  get problem(): string | null {
    return this.failure;
  }

  start(): void {
    this.call();
    this.timer = setInterval(() => this.call(), CALLS_EVERY_MS);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.calling?.destroy();
    this.calling = null;
    this.cut();
  }

  private call(): void {
    const where = this.where();
    if (this.isConnected || this.calling || !where) return;
    const socket = connect(where);
    this.calling = socket;
    const failed = (why: string): void => {
      if (this.calling !== socket) return;
      this.calling = null;
      this.failure = why;
      socket.destroy();
    };
    socket.setTimeout(GIVES_UP_MS, () => failed(`${where.host}:${where.port} does not answer.`));
    socket.on('error', ({ message }) => failed(message));
    socket.once('connect', () => {
      if (this.calling !== socket) return void socket.destroy();
      this.calling = null;
      this.failure = null;
      socket.setTimeout(0);
      this.take(socket);
    });
  }
}
