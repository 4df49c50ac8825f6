import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';

const LOOPBACK = '127.0.0.1';

/** One of the two who exchange datagrams. */
export interface LinkEnd {
  /** Hears a datagram of the other, at a time of `performance.now()`. */
  hear(datagram: Uint8Array, atMs: number): void;
}

/** What one end sent, at which time of day in ms, and whether somebody was there to get it. */
export interface PassedDatagram {
  from: LinkEnd;
  datagram: Uint8Array;
  atMs: number;
  end: 'arrived' | 'silent';
}

/** Two ends that send each other datagrams over UDP on loopback, each from a socket of its own; what comes from elsewhere is not heard. */
export class UdpLink {
  private readonly sockets = new Map<LinkEnd, Socket>();
  onPassed: (passed: PassedDatagram) => void = () => undefined;

  async attach(end: LinkEnd): Promise<void> {
    const socket = createSocket('udp4');
    socket.on('message', (datagram, { port }) => {
      if (port === this.peerOf(end)?.address().port) end.hear(datagram, performance.now());
    });
    socket.bind(0, LOOPBACK);
    await once(socket, 'listening');
    // A datagram that finds its socket just closed comes back as an error; on loopback there is no other.
    socket.on('error', () => undefined);
    this.sockets.set(end, socket);
  }

  detach(end: LinkEnd): void {
    this.sockets.get(end)?.close();
    this.sockets.delete(end);
  }

  send(from: LinkEnd, datagram: Uint8Array): void {
    const [own, peer] = [this.sockets.get(from), this.peerOf(from)];
    if (!own) return;
    this.onPassed({ from, datagram, atMs: performance.timeOrigin + performance.now(), end: peer ? 'arrived' : 'silent' });
    if (peer) own.send(datagram, peer.address().port, LOOPBACK);
  }

  close(): void {
    for (const end of [...this.sockets.keys()]) this.detach(end);
  }

  private peerOf(end: LinkEnd): Socket | undefined {
    for (const [other, socket] of this.sockets) if (other !== end) return socket;
    return undefined;
  }
}
