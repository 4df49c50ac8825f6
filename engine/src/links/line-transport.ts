import { Mutex } from 'async-mutex';
import type { SerialSettings } from '@plain-envoy/core/line';
import { type ClientTransport, type Exchange, failed } from './transport.js';
import type { Station, VirtualLine } from './virtual-line.js';

/** The one that asks on a virtual line, RTU or ASCII: one question at a time, the others wait in the order in which they came. */
export class LineTransport implements ClientTransport, Station {
  /** Who asks next waits for who asked before. */
  private readonly turns = new Mutex();
  private waiting: { unit: number; end(exchange: Exchange): void } | null = null;

  constructor(
    private readonly line: VirtualLine,
    readonly settings: SerialSettings = line.settings,
  ) {
    line.attach(this);
  }

  exchange(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Exchange> {
    return this.turns.runExclusive(() => this.ask(unit, pdu, timeoutMs));
  }

  hear(frame: Uint8Array): void {
    if (!this.waiting) return;
    const read = this.line.codec.decode(frame);
    if (!read) this.waiting.end(failed({ code: 'checksum' }));
    else if (read.unit === this.waiting.unit) this.waiting.end({ kind: 'answer', pdu: read.pdu.slice() });
  }

  close(): void {
    this.line.detach(this);
    this.waiting?.end(failed({ code: 'closed' }));
  }

  private async ask(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Exchange> {
    if (!this.line.isOpen) return failed({ code: 'closed' });
    await this.line.send(this, this.line.codec.encode({ unit, pdu }));
    return new Promise((done) => {
      const end = (exchange: Exchange) => {
        clearTimeout(timer);
        this.waiting = null;
        done(exchange);
      };
      const timer = setTimeout(() => end(failed({ code: 'no-answer' })), timeoutMs);
      this.waiting = { unit, end };
    });
  }
}
