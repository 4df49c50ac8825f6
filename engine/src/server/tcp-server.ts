import type { Socket } from 'node:net';
import { MBAP_BYTES } from '@plain-envoy/core/codec';
import { pooledTcpFrame, TcpFrames, type Wish } from '../links/index.js';
import { SocketServer, type SocketServerOptions } from './socket-server.js';
import { inBackground } from '../background/index.js';

/**
 * Answers a request PDU for a unit; null stays silent, as a device does that is not addressed. `wish` says
 * whether who asked still waits.
 */
export type Responder = (unit: number, pdu: Uint8Array, wish?: () => Wish) => Uint8Array | null | Promise<Uint8Array | null>;

/** A Modbus TCP server: header in, responder, header out with the same transaction id. Several requests may be open at a time. */
export class ModbusTcpServer extends SocketServer {
  constructor(
    private readonly respond: Responder,
    options: SocketServerOptions,
  ) {
    super(options);
  }

  protected serve(socket: Socket): () => Promise<unknown> {
    const frames = new TcpFrames();
    const open = new Set<Promise<void>>();
    socket.on('data', (chunk) => {
      const sound = frames.push(chunk, (bytes, from, end) => {
        const later = this.answer(bytes, from, end, socket);
        if (!later) return;
        open.add(later);
        inBackground(later.finally(() => open.delete(later)));
      });
      if (!sound) socket.destroy();
    });
    return () => Promise.all(open);
  }

  /** Each answer leaves by itself: some clients take one for each piece that they receive. A promise where it is not ready yet. */
  private answer(bytes: Uint8Array, from: number, end: number, socket: Socket): Promise<void> | null {
    const transaction = (bytes[from]! << 8) | bytes[from + 1]!;
    const unit = bytes[from + 6]!;
    const answer = this.respond(unit, bytes.subarray(from + MBAP_BYTES, end), () => wishOf(socket));
    if (answer instanceof Promise) {
      return answer.then((pdu) => {
        if (!pdu || socket.destroyed) return;
        for (const frame of this.framesFor(transaction, unit, pdu)) socket.write(frame);
        if (this.spoil?.hangsUp) socket.destroySoon();
      });
    }
    if (answer) for (const frame of this.framesFor(transaction, unit, answer)) socket.write(frame);
    return null;
  }

  private framesFor(transaction: number, unit: number, pdu: Uint8Array): Uint8Array[] {
    if (!this.spoil) return [pooledTcpFrame(transaction, { unit, pdu })];
    return this.spoil.spoil(pooledTcpFrame(transaction, { unit: this.spoil.unitFor(unit), pdu }), true);
  }
}

function wishOf(socket: Socket): Wish {
  if (socket.destroyed) return 'gone';
  return socket.readableEnded ? 'later' : 'now';
}
