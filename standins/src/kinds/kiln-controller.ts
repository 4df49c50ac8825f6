import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

const DAMPER_TARGET = 50;
const DAMPER_PERIOD_S = 180;
const RESET = 1 << 7;

/** Where a fan's words lie in the controller: status arrives, command and set point leave. */
const fans = [
  { status: 60, command: 64, target: 65, wanted: 412 },
  { status: 70, command: 74, target: 75, wanted: 409 },
];

/**
 * The kiln controller: a bank of words and bits with a small program that starts its fans in the order that the drives
 * ask for (on, then run; a reset after a fault) and moves the damper slowly.
 */
export class KilnController implements StandIn {
  readonly bank = new RegisterBank({ holding: 512, coil: 512 });
  private ageMs = 0;

  constructor() {
    for (const fan of fans) this.bank.set('holding', fan.target, fan.wanted);
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
  }

  /** The reset bit rises once in two seconds, long enough each time to be carried. */
  private pulse(): number {
    return this.ageMs % 4000 < 2000 ? RESET : 0;
  }
}
