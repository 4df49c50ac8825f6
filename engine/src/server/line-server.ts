import { DIAGNOSTICS } from '@plain-envoy/core/codec';
import type { SerialSettings } from '@plain-envoy/core/line';
import { type Station, until, type VirtualLine } from '../links/index.js';
import type { BusCounters } from './bus-counters.js';
import { InTurn } from './in-turn.js';
import type { Spoil } from './spoil.js';
import type { Responder } from './tcp-server.js';
import { inBackground } from '../background/index.js';

export interface LineServerOptions {
  unitId: number;
  /** How long the device takes before it answers, on top of the silence that the standard asks for. */
  delayMs: number;
  /** As set on the device; the line's own where it is left out. */
  settings?: SerialSettings;
  spoil?: Spoil;
  /** What it counts of its own communication. */
  counters?: BusCounters;
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
    const { counters, unitId } = this.options;
    if (!read) return counters?.heardDamage();
    const isMine = read.unit === unitId || read.unit === 0;
    counters?.heard(read.unit, isMine);
    if (!isMine) return;
    const heardAt = performance.now();
    const [unit, pdu] = [read.unit, read.pdu.slice()];
    inBackground(this.inTurn.take(() => this.answer(unit, pdu, heardAt)));
  }

  private async answer(unit: number, request: Uint8Array, heardAt: number): Promise<void> {
    const { counters } = this.options;
    const listened = counters?.listensOnly ?? false;
    if (listened && !isRestart(request)) return counters?.answered(null, false);
    const thinkUntil = Math.max(heardAt + this.line.silenceMs(this.settings), performance.now()) + this.options.delayMs;
    const pdu = await this.respond(unit, request);
    const answered = unit === 0 || listened || counters?.listensOnly ? null : pdu;
    counters?.answered(answered, pdu !== null && request[0] !== FETCH_EVENT_COUNTER);
    if (!pdu || !answered) return;
    await until(thinkUntil);
    const { spoil } = this.options;
    const frame = this.line.codec.encode({ unit: spoil?.unitFor(unit) ?? unit, pdu });
    // Two that answer at once speak at once.
    if (this.line.isOpen) await Promise.all((spoil?.spoil(frame, false) ?? [frame]).map((out) => this.line.send(this, out)));
  }
}

/** Does not count itself (V1.1b3, 6.9). */
const FETCH_EVENT_COUNTER = 11;
/** The only order that a device obeys which listens only (V1.1b3, 6.8.1). */
const RESTART = 1;

function isRestart(pdu: Uint8Array): boolean {
  return pdu[0] === DIAGNOSTICS && pdu[1] === 0 && pdu[2] === RESTART;
}
