import { RegisterBank } from '@plain-envoy/engine/server';
import { type StandIn, Watchdog } from './stand-in.js';

const DAMPER_TARGET = 50;
const DAMPER_PERIOD_S = 180;
const RESET = 1 << 7;

/** Beats, state and call for the steeps, and the burner's words, where the program of this controller keeps them. */
const BEAT = 84;
const STEEP_BEAT = 83;
const STEEP_WATCHDOG_MS = 5000;
const STATE = 85;
const BATCH_READY = 10;
const CALL = 11;
const FLOOR_FAN = 105;
const HUMIDITY_LIMIT = 132;
const burner = { release: 90, target: 91, command: 92, status: 93, wanted: 620 };
const CALLS_EVERY_MS = 60_000;

/** Where a fan's words lie in the controller: status arrives, command and set point leave. */
const fans = [
  { status: 60, command: 64, target: 65, wanted: 412 },
  { status: 70, command: 74, target: 75, wanted: 409 },
];

/**
 * The kiln controller: a bank of words and bits with a small program that starts its fans in the order that the drives
 * ask for (on, then run; a reset after a fault), moves the damper slowly, fires the burner once a fan runs, and calls
 * for a batch every minute until it is ready, though not while the steeps’ heartbeat stands still.
 */
export class KilnController implements StandIn {
  readonly bank = new RegisterBank({ holding: 512, coil: 512 });
  private readonly steep = new Watchdog(STEEP_WATCHDOG_MS);
  private ageMs = 0;

  constructor() {
    for (const fan of fans) this.bank.set('holding', fan.target, fan.wanted);
    this.bank.set('holding', FLOOR_FAN, 450);
    this.bank.set('holding', HUMIDITY_LIMIT, 700);
    this.bank.set('holding', burner.release, 1, burner.wanted);
    this.step(0);
  }

  step(ms: number): void {
    this.ageMs += ms;
    for (const fan of fans) {
      const status = this.bank.get('holding', fan.status);
      const fault = (status & 0b1000) !== 0;
      const on = (status & 0b0010) !== 0;
      this.bank.set('holding', fan.command, fault ? this.pulse() : on ? 0b11 : 0b01);
    }
    const turn = Math.sin((this.ageMs / 1000 / DAMPER_PERIOD_S) * 2 * Math.PI);
    this.bank.set('holding', DAMPER_TARGET, Math.round(734 + 120 * turn));
    this.fire();
    this.bank.set('holding', BEAT, Math.floor(this.ageMs / 1000) & 0xffff);
    const isSteepGone = this.steep.trips(this.bank.get('holding', STEEP_BEAT), ms);
    const ready = this.bank.get('coil', BATCH_READY) === 1;
    if (ready || isSteepGone) this.bank.set('coil', CALL, 0);
    else if (this.ageMs % CALLS_EVERY_MS < ms) this.bank.set('coil', CALL, 1);
  }

  private fire(): void {
    const running = fans.some((fan) => (this.bank.get('holding', fan.status) & 0b0100) !== 0);
    const tripped = (this.bank.get('holding', burner.status) & 0b1000) !== 0;
    this.bank.set('holding', burner.command, tripped ? this.pulse() : running ? 1 : 0);
    this.bank.set('holding', STATE, running ? 2 : 1);
  }

  /** The reset bit rises once in two seconds, long enough each time to be carried. */
  private pulse(): number {
    return this.ageMs % 4000 < 2000 ? RESET : 0;
  }
}
