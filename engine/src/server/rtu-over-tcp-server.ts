import type { Socket } from 'node:net';
import { socketChannel } from '../links/index.js';
import { ChannelServer } from './channel-server.js';
import { SocketServer, type SocketServerOptions } from './socket-server.js';
import type { Responder } from './tcp-server.js';

/** A server that takes RTU frames, checksum and all, over TCP. It answers whatever its responder answers. */
export class RtuOverTcpServer extends SocketServer {
  constructor(
    private readonly respond: Responder,
    options: SocketServerOptions,
  ) {
    super(options);
  }

  protected serve(socket: Socket): () => Promise<void> {
    const server = new ChannelServer(socketChannel(socket), this.respond, 'rtu', this.spoil);
    return () => server.settled();
  }
}
