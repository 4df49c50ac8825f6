/** What is done with the bytes of a serial port that hears itself: they are cut away, or told; null where none can be. */
export type EchoRule = 'cut away' | 'told' | null;

/** Told of bytes: which of them are those of the line, and whether all that was sent came back. */
export interface Sifted {
  rest: Uint8Array;
  isEcho: boolean;
}

const NOTHING = new Uint8Array();

/**
 * Tells what was sent from what is heard, where an adapter hears itself: then all that leaves comes back before anything else. Bytes
 * are held while they are the beginning of what was sent.
 */
export class EchoSieve {
  private sent: Uint8Array = NOTHING;
  private held = 0;

  expect(frame: Uint8Array): void {
    this.sent = frame;
    this.held = 0;
  }

  push(bytes: Uint8Array): Sifted {
    if (this.sent.length === 0) return { rest: bytes, isEcho: false };
    let at = 0;
    while (at < bytes.length && this.held + at < this.sent.length && bytes[at] === this.sent[this.held + at]) at += 1;
    if (this.held + at === this.sent.length) {
      this.sent = NOTHING;
      return { rest: bytes.subarray(at), isEcho: true };
    }
    if (at === bytes.length) {
      this.held += at;
      return { rest: NOTHING, isEcho: false };
    }
    return { rest: Buffer.concat([this.release(), bytes]), isEcho: false };
  }

  /** What is held; it is none of an echo. */
  release(): Uint8Array {
    const held = this.sent.subarray(0, this.held);
    this.sent = NOTHING;
    this.held = 0;
    return held;
  }
}
