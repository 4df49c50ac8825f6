import { type Addressed, fillTcpFrame, MBAP_BYTES } from '@plain-envoy/core/frame';

/** A Modbus TCP frame in memory from Node's pool, which is made much faster than a typed array of its own. */
export function pooledTcpFrame(transaction: number, addressed: Addressed): Buffer {
  return fillTcpFrame(Buffer.allocUnsafe(MBAP_BYTES + addressed.pdu.length), transaction, addressed);
}

/** These bytes in memory of their own: what they were read into is used again for the next. */
export function copyOf(bytes: Buffer, from: number, end: number): Buffer {
  const copy = Buffer.allocUnsafe(end - from);
  bytes.copy(copy, 0, from, end);
  return copy;
}

/** Cuts a TCP byte stream into Modbus TCP frames by the length in each header (Messaging on TCP/IP V1.0b, 3.1.3). */
export class TcpFrames {
  private rest: Buffer | null = null;

  /** What has come of a frame that is not whole yet. */
  begun(): Buffer | null {
    return this.rest;
  }

  /**
   * Hands over where each whole frame, header included, starts and ends in which bytes; what is incomplete waits for the next chunk.
   * False where the stream is no Modbus TCP, after which it cannot be followed any more.
   */
  push(chunk: Buffer, onFrame: (bytes: Buffer, from: number, end: number) => void): boolean {
    const bytes = this.rest ? Buffer.concat([this.rest, chunk]) : chunk;
    let at = 0;
    while (bytes.length - at >= 6) {
      const length = (bytes[at + 4]! << 8) | bytes[at + 5]!;
      if (bytes[at + 2] !== 0 || bytes[at + 3] !== 0 || length < 2 || length > 254) return false;
      const end = at + 6 + length;
      if (end > bytes.length) break;
      onFrame(bytes, at, end);
      at = end;
    }
    this.rest = at < bytes.length ? copyOf(bytes, at, bytes.length) : null;
    return true;
  }
}
