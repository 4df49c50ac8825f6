import { failureError } from '@plain-envoy/core/failure';
import { characterMs, type SerialSettings } from '@plain-envoy/core/line';
import { SerialClient } from './serial-client.js';
import type { Station, VirtualLine } from './virtual-line.js';

/** The one that asks on a virtual line. */
export class LineTransport extends SerialClient implements Station {
  constructor(
    private readonly line: VirtualLine,
    readonly settings: SerialSettings = line.settings,
  ) {
    super();
    line.attach(this);
  }

  hear(frame: Uint8Array): void {
    const read = this.line.codec.decode(frame);
    if (read) this.heard(frame, read, performance.now() - frame.length * characterMs(this.settings));
    else this.damaged(frame, { code: 'checksum' });
  }

  override close(): void {
    this.line.detach(this);
    super.close();
  }

  protected get codec() {
    return this.line.codec;
  }

  /** Who asks hears whether somebody speaks, and waits. */
  protected async ready(): Promise<void> {
    await this.line.quiet();
    if (!this.line.isOpen) throw failureError({ code: 'closed' });
  }

  protected send(frame: Uint8Array): Promise<number> {
    return this.line.send(this, frame);
  }

  /** Frames come whole on it. */
  protected begun(): null {
    return null;
  }
}
