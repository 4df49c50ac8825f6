import { RegisterBank } from '@plain-envoy/engine/server';
import { type StandIn, towards } from './stand-in.js';

const FULL = 1000;
const TENTHS_PERCENT_PER_S = 40;

/** A damper that follows its set point (0–1000 for 0–100.0 %) at a finite speed, with a contact at each end. */
export class ExhaustDamper implements StandIn {
  readonly bank = new RegisterBank({ holding: 8, input: 8, discrete: 8 });
  private position = 250;

  constructor() {
    this.bank.set('holding', 0, 250);
    this.step(0);
  }

  step(ms: number): void {
    const target = Math.min(FULL, this.bank.get('holding', 0));
    this.position = towards(this.position, target, (TENTHS_PERCENT_PER_S * ms) / 1000);
    this.bank.set('input', 0, Math.round(this.position));
    this.bank.set('discrete', 0, Number(this.position >= FULL), Number(this.position <= 0));
  }
}
