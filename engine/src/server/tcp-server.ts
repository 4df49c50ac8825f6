import type { Socket } from 'node:net';
import { MBAP_BYTES } from '@plain-envoy/core/frame';
import { pooledTcpFrame, TcpFrames } from '../links/index.js';
import { SocketServer, type SocketServerOptions } from './socket-server.js';

/** Answers a request PDU for a unit; null stays silent, as a device does that is not addressed. */
export type Responder = (unit: number, pdu: Uint8Array) => Uint8Array | null | Promise<Uint8Array | null>;

/** A Modbus TCP server: header in, responder, header out with the same transaction id. Several requests may be open at a time. */
export class ModbusTcpServer extends SocketServer {
  constructor(
    private readonly respond: Responder,
    options: SocketServerOptions,
  ) {
    super(options);
  }

  protected serve(socket: Socket): void {
    const frames = new TcpFrames();
    socket.on('data', (chunk) => {
      const ready: Uint8Array[] = [];
      const sound = frames.push(chunk, (bytes, from, end) => this.answer(bytes, from, end, socket, ready));
      if (ready.length) socket.write(ready.length === 1 ? ready[0]! : Buffer.concat(ready));
      if (!sound) socket.destroy();
    });
  }

  private answer(bytes: Uint8Array, from: number, end: number, socket: Socket, ready: Uint8Array[]): void {
    const transaction = (bytes[from]! << 8) | bytes[from + 1]!;
    const unit = bytes[from + 6]!;
    const answer = this.respond(unit, bytes.subarray(from + MBAP_BYTES, end));
    if (answer instanceof Promise) {
      void answer.then((pdu) => {
        if (!pdu || socket.destroyed) return;
        for (const frame of this.framesFor(transaction, unit, pdu)) socket.write(frame);
        if (this.spoil?.hangsUp) socket.destroySoon();
      });
    } else if (answer) {
      ready.push(...this.framesFor(transaction, unit, answer));
    }
  }

  private framesFor(transaction: number, unit: number, pdu: Uint8Array): Uint8Array[] {
    if (!this.spoil) return [pooledTcpFrame(transaction, { unit, pdu })];
    return this.spoil.spoil(pooledTcpFrame(transaction, { unit: this.spoil.unitFor(unit), pdu }), true);
  }
}
