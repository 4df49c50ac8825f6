import { readRtuFrame, rtuFrame } from '@plain-envoy/core/frame';
import { silenceMs } from '@plain-envoy/core/line';
import { type Station, until, type VirtualLine } from '../transport/index.js';
import type { Responder } from './tcp-server.js';

export interface RtuServerOptions {
  unitId: number;
  /** How long the device thinks before it answers, on top of the silence that the standard asks for. */
  delayMs: number;
}

/** An RTU server on a virtual line: answers its own unit, obeys broadcasts in silence, ignores everything else. */
export class RtuServer implements Station {
  constructor(
    private readonly line: VirtualLine,
    private readonly respond: Responder,
    private readonly options: RtuServerOptions,
  ) {}

  start(): void {
    this.line.attach(this);
  }

  stop(): void {
    this.line.detach(this);
  }

  hear(frame: Uint8Array): void {
    const read = readRtuFrame(frame);
    if (!read || (read.unit !== this.options.unitId && read.unit !== 0)) return;
    void this.answer(read.unit, read.pdu.slice());
  }

  private async answer(unit: number, request: Uint8Array): Promise<void> {
    const thinkUntil = performance.now() + silenceMs(this.line.settings) + this.options.delayMs;
    const pdu = await this.respond(unit, request);
    if (!pdu || unit === 0) return;
    await until(thinkUntil);
    if (this.line.isOpen) await this.line.send(this, rtuFrame({ unit, pdu }));
  }
}
