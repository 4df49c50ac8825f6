import { createServer, type Server, type Socket } from 'node:net';
import { MBAP_BYTES } from '@plain-envoy/core/frame';
import { pooledTcpFrame, TcpFrames } from '../transport/index.js';

/** Answers a request PDU for a unit; null stays silent, as a device does that is not addressed. */
export type Responder = (unit: number, pdu: Uint8Array) => Uint8Array | null | Promise<Uint8Array | null>;

export interface TcpServerOptions {
  host: string;
  port: number;
  /** Clients served at a time; further ones are refused by closing their connection. */
  connections: number;
}

/** A Modbus TCP server: header in, responder, header out with the same transaction id. Several requests may be open at a time. */
export class ModbusTcpServer {
  private readonly sockets = new Set<Socket>();
  private server: Server | null = null;

  constructor(
    private readonly respond: Responder,
    private readonly options: TcpServerOptions,
  ) {}

  /** Rejects with the system's error where the address cannot be listened on. */
  start(): Promise<void> {
    return new Promise((listening, failed) => {
      const server = createServer({ noDelay: true, keepAlive: true }, (socket) => this.serve(socket));
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
    for (const socket of this.sockets) socket.destroy();
    if (server) await new Promise<void>((closed) => server.close(() => closed()));
  }

  private serve(socket: Socket): void {
    if (this.sockets.size >= this.options.connections) {
      socket.destroy();
      return;
    }
    this.sockets.add(socket);
    const frames = new TcpFrames();
    socket.on('data', (chunk) => {
      const ready: Uint8Array[] = [];
      const sound = frames.push(chunk, (bytes, from, end) => this.answer(bytes, from, end, socket, ready));
      if (ready.length) socket.write(ready.length === 1 ? ready[0]! : Buffer.concat(ready));
      if (!sound) socket.destroy();
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.sockets.delete(socket));
  }

  private answer(bytes: Uint8Array, from: number, end: number, socket: Socket, ready: Uint8Array[]): void {
    const transaction = (bytes[from]! << 8) | bytes[from + 1]!;
    const unit = bytes[from + 6]!;
    const answer = this.respond(unit, bytes.subarray(from + MBAP_BYTES, end));
    if (answer instanceof Promise) {
      void answer.then((pdu) => {
        if (pdu && !socket.destroyed) socket.write(pooledTcpFrame(transaction, { unit, pdu }));
      });
    } else if (answer) {
      ready.push(pooledTcpFrame(transaction, { unit, pdu: answer }));
    }
  }
}
