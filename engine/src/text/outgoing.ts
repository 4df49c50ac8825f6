import { inBackground } from '../background/index.js';

/** So many bytes may wait to be sent. */
const MOST_WAITING = 4096;

/** What a text port has still to send. `write` resolves when bytes have left. */
export class Outgoing {
  private waiting = 0;
  private isFull = false;

  constructor(private readonly write: (bytes: Uint8Array) => Promise<void>) {}

  /** False where more waits than fits. */
  send(bytes: Uint8Array): boolean {
    this.isFull = this.waiting + bytes.length > MOST_WAITING;
    if (this.isFull) return false;
    this.waiting += bytes.length;
    inBackground(this.write(bytes).finally(() => (this.waiting -= bytes.length)));
    return true;
  }

  /** Full where the last did not fit. */
  state(): { waiting: number; isFull: boolean } {
    return { waiting: this.waiting, isFull: this.isFull };
  }
}
