import { openSocket } from './channel.js';
import { ChannelTransport } from './channel-transport.js';
import { TcpTransport } from './tcp.js';
import type { ClientTransport } from './transport.js';

/** The way to what listens at an address, by the frames that it takes: Modbus TCP, or those of a serial line with their checksum. */
export function overEthernet(framing: 'tcp' | 'rtu', host: string, port: number): ClientTransport {
  return framing === 'tcp' ? new TcpTransport(host, port) : new ChannelTransport(() => openSocket(host, port), 'rtu');
}
