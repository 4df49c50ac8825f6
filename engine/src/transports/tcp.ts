import { TcpTransport } from '../links/index.js';
import { ModbusTcpServer } from '../server/index.js';
import type { SocketTransport } from './definition.js';

/** Modbus TCP: frames with a header that says how long they are. */
export const tcp: SocketTransport = {
  client: (host, port) => new TcpTransport(host, port),
  server: (respond, options) => new ModbusTcpServer(respond, options),
};
