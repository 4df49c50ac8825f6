import type { SocketFraming } from '@plain-envoy/core/frame';
import type { SocketTransport } from './definition.js';
import { rtuOverTcp } from './rtu-over-tcp.js';
import { tcp } from './tcp.js';

/** What goes over sockets, by its framing. A new one is a file of its own and its line here. */
export const socketTransports: Readonly<Record<SocketFraming, SocketTransport>> = {
  tcp,
  rtu: rtuOverTcp,
};
