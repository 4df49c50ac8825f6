import { ChannelTransport, openSocket } from '../links/index.js';
import { RtuOverTcpServer } from '../server/index.js';
import type { SocketTransport } from './definition.js';

/** The frames of a serial line, checksum and all, carried over TCP. */
export const rtuOverTcp: SocketTransport = {
  client: (host, port) => new ChannelTransport(() => openSocket(host, port), 'rtu'),
  server: (respond, options) => new RtuOverTcpServer(respond, options),
};
