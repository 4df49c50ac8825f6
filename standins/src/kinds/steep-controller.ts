import { encode } from '@plain-envoy/core/value';
import { RegisterBank } from '@plain-envoy/engine/server';
import { type StandIn, Watchdog } from './stand-in.js';

const FIRST_BATCH = 70_412;
const READY_AFTER_MS = 8000;
const READY = 10;
const CALL = 20;
const DAMPER_WISH = 130;
const KILN_BEAT = 121;
const KILN_WATCHDOG_MS = 4000;

/**
 * The steep controller: a batch number, the steep water, a heartbeat, and a batch that is ready a while after
 * it was called for, though not while the kiln’s heartbeat stands still.
 */
export class SteepController implements StandIn {
  readonly bank = new RegisterBank({ holding: 200, coil: 32 });
  private readonly kiln = new Watchdog(KILN_WATCHDOG_MS);
  private ageMs = 0;
  private calledMs = 0;
  private batch = FIRST_BATCH;

  constructor() {
    this.step(0);
  }

  step(ms: number): void {
    this.ageMs += ms;
    const isKilnGone = this.kiln.trips(this.bank.get('holding', KILN_BEAT), ms);
    const called = this.bank.get('coil', CALL) === 1 && !isKilnGone;
    const wasReady = this.bank.get('coil', READY) === 1;
    this.calledMs = called ? this.calledMs + ms : 0;
    if (wasReady && !called) this.batch += 1;
    this.bank.set('coil', READY, Number(this.calledMs > READY_AFTER_MS));
    const words = encode(this.batch, { type: 'uint32', order: 'CDAB' });
    if (words.ok) this.bank.set('holding', 100, ...words.value.words);
    this.bank.set('holding', 102, Math.round(148 + 6 * Math.sin(this.ageMs / 90_000)));
    this.bank.set('holding', DAMPER_WISH, 700);
    this.bank.set('holding', 110, Math.floor(this.ageMs / 1000) & 0xffff);
  }
}
