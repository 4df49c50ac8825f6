import { inBackground } from '@plain-envoy/engine/background';
import type { TextLine, TextStation } from '@plain-envoy/engine/links';

/** So much may wait to be sent. */
const MOST_WAITING = 4096;

/** What a port on a text line has still to send, one after the other. `spoil` gives what goes out in the place of what should. */
export class Outgoing {
  private waiting = 0;
  private isFull = false;

  constructor(
    private readonly line: TextLine,
    private readonly station: TextStation,
    private readonly spoil: (bytes: Uint8Array) => Promise<Uint8Array[]>,
  ) {}

  /** False where more waits than fits. */
  send(bytes: Uint8Array): boolean {
    this.isFull = this.waiting + bytes.length > MOST_WAITING;
    if (this.isFull) return false;
    this.waiting += bytes.length;
    inBackground(this.out(bytes).finally(() => (this.waiting -= bytes.length)));
    return true;
  }

  /** Full where the last did not fit. */
  state(): { waiting: number; isFull: boolean } {
    return { waiting: this.waiting, isFull: this.isFull };
  }

  private async out(bytes: Uint8Array): Promise<void> {
    for (const one of await this.spoil(bytes)) await this.line.send(this.station, one);
  }
}
