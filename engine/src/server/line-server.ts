import { silenceMs, type SerialSettings } from '@plain-envoy/core/line';
import { type Station, until, type VirtualLine } from '../links/index.js';
import { InTurn } from './in-turn.js';
import type { Spoil } from './spoil.js';
import type { Responder } from './tcp-server.js';

export interface LineServerOptions {
  unitId: number;
  /** How long the device takes before it answers, on top of the silence that the standard asks for. */
  delayMs: number;
  /** As set on the device; the line's own where it is left out. */
  settings?: SerialSettings;
  spoil?: Spoil;
}

/** A server on a virtual line: answers its own unit, obeys broadcasts in silence, ignores everything else. */
export class LineServer implements Station {
  readonly settings: SerialSettings;
  private readonly inTurn = new InTurn();

  constructor(
    private readonly line: VirtualLine,
    private readonly respond: Responder,
    private readonly options: LineServerOptions,
  ) {
    this.settings = options.settings ?? line.settings;
  }

  start(): void {
    this.line.attach(this);
  }

  stop(): void {
    this.line.detach(this);
  }

  hear(frame: Uint8Array): void {
    const read = this.line.codec.decode(frame);
    if (!read || (read.unit !== this.options.unitId && read.unit !== 0)) return;
    const heardAt = performance.now();
    const [unit, pdu] = [read.unit, read.pdu.slice()];
    void this.inTurn.take(() => this.answer(unit, pdu, heardAt));
  }

  private async answer(unit: number, request: Uint8Array, heardAt: number): Promise<void> {
    const thinkUntil = Math.max(heardAt + silenceMs(this.settings), performance.now()) + this.options.delayMs;
    const pdu = await this.respond(unit, request);
    if (!pdu || unit === 0) return;
    await until(thinkUntil);
    const { spoil } = this.options;
    const frame = this.line.codec.encode({ unit: spoil?.unitFor(unit) ?? unit, pdu });
    // Two that answer at once speak at once.
    if (this.line.isOpen) await Promise.all((spoil?.spoil(frame, false) ?? [frame]).map((out) => this.line.send(this, out)));
  }
}
