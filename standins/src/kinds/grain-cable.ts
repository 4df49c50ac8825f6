import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

const SENSORS = 24;

/** A cable that hangs in a grain bin: 24 signed tenths of a degree, warmer in the middle, drifting over hours. */
export class GrainCable implements StandIn {
  readonly bank = new RegisterBank({ input: SENSORS });
  private ageMs = 0;

  constructor() {
    this.step(0);
  }

  step(ms: number): void {
    this.ageMs += ms;
    for (let sensor = 0; sensor < SENSORS; sensor++) {
      const depth = Math.sin((Math.PI * (sensor + 0.5)) / SENSORS);
      this.bank.set('input', sensor, Math.round(-12 + 128 * depth + 4 * Math.sin(this.ageMs / 120_000 + sensor)));
    }
  }
}
