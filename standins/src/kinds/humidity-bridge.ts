import { RegisterBank } from '@plain-envoy/engine/server';
import { lossyLink, type StandIn } from './stand-in.js';

/** About three answers in a hundred never come back over the air. */
const LOST = 0.03;

/** A wireless bridge: 16 registers, the first half measured, the second half written; it loses a few answers. */
export class HumidityBridge implements StandIn {
  readonly bank = new RegisterBank({ holding: 16 });
  private ageMs = 0;
  private readonly comesThrough = lossyLink(20);

  constructor() {
    this.step(0);
  }

  answers(): boolean {
    return this.comesThrough(LOST);
  }

  step(ms: number): void {
    this.ageMs += ms;
    this.bank.set('holding', 0, Math.round(634 + 25 * Math.sin(this.ageMs / 80_000)), Math.round(118 + 9 * Math.sin(this.ageMs / 110_000)));
  }
}
