import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import type { SerialSettings } from '@plain-envoy/core/line';
import { inBackground } from '@plain-envoy/engine/background';

/** A simulated line, of frames or of text, as an adapter is on it. */
export interface AdaptedLine {
  readonly settings: SerialSettings;
  attach(station: Adapter): void;
  detach(station: Adapter): void;
  send(from: Adapter, bytes: Uint8Array): Promise<unknown>;
}

/**
 * A stand-in of an adapter from this machine to a serial line: what comes in on its socket is put on the virtual line with
 * the settings that it has at that time, and what it hears goes out. It listens from the first time that somebody asks where.
 */
export class Adapter {
  settings: SerialSettings;
  private server: Server | null = null;
  private readonly sockets = new Set<Socket>();

  constructor(private readonly line: AdaptedLine) {
    this.settings = line.settings;
  }

  set(settings: SerialSettings): void {
    this.settings = settings;
  }

  async port(): Promise<number> {
    if (!this.server) {
      const server = createServer({ noDelay: true }, (socket) => this.serve(socket));
      await new Promise<void>((listening, failed) => server.once('error', failed).listen(0, '127.0.0.1', listening));
      this.server = server;
    }
    return (this.server.address() as AddressInfo).port;
  }

  hear(frame: Uint8Array): void {
    for (const socket of this.sockets) socket.write(frame);
  }

  async stop(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    const server = this.server;
    this.server = null;
    if (server) await new Promise<void>((closed) => server.close(() => closed()));
  }

  private serve(socket: Socket): void {
    this.sockets.add(socket);
    this.line.attach(this);
    socket.on('data', (bytes) => inBackground(this.line.send(this, bytes)));
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      this.sockets.delete(socket);
      if (this.sockets.size === 0) this.line.detach(this);
    });
  }
}
