import { type Addressed, fillTcpFrame, MBAP_BYTES } from '@plain-envoy/core/codec';

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
   * False where the stream is no Modbus TCP, after which it cannot be followed any more. The frame before that place is not handed
   * over: it may be half an answer that was filled up with the beginning of the next.
   */
  push(chunk: Buffer, onFrame: (bytes: Buffer, from: number, end: number) => void): boolean {
    const bytes = this.rest ? Buffer.concat([this.rest, chunk]) : chunk;
    let [from, at] = [0, 0];
    for (;;) {
      const left = bytes.length - at;
      if ((left > 2 && bytes[at + 2] !== 0) || (left > 3 && bytes[at + 3] !== 0)) return false;
      const length = left < 6 ? 0 : (bytes[at + 4]! << 8) | bytes[at + 5]!;
      if (left >= 6 && (length < 2 || length > 254)) return false;
      if (at > from) onFrame(bytes, from, at);
      from = at;
      if (left < 6 || length > left - 6) break;
      at += 6 + length;
    }
    this.rest = at < bytes.length ? copyOf(bytes, at, bytes.length) : null;
    return true;
  }
}
