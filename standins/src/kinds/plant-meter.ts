import { encode, type Layout } from '@plain-envoy/core/value';
import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

const START_KWH = 1_204_500;
const EXPORTED_KWH = 812;
const POWER_FACTOR = 0.93;
const REACTIVE_SHARE = 0.395;

/** A meter with floats at high references and energy with swapped bytes. Between its groups there is nothing, and it refuses to read across. */
export class PlantMeter implements StandIn {
  readonly bank = new RegisterBank({
    holding: [
      [2999, 3004],
      [3027, 3032],
      [3059, 3060],
      [3083, 3084],
      [3109, 3110],
      [3203, 3206],
      [3219, 3220],
    ],
  });
  private ageMs = 0;
  private energyKwh = START_KWH;

  constructor() {
    this.step(0);
  }

  step(ms: number): void {
    this.ageMs += ms;
    const powerKw = 186 + 22 * Math.sin(this.ageMs / 60_000);
    this.energyKwh += (powerKw * ms) / 3_600_000;
    this.put(3059, powerKw, { type: 'float32', order: 'ABCD' });
    this.put(3083, POWER_FACTOR, { type: 'float32', order: 'ABCD' });
    for (const phase of [0, 1, 2]) {
      const volts = 231.4 - phase * 0.7 + 0.5 * Math.sin(this.ageMs / 7000 + phase);
      this.put(3027 + 2 * phase, volts, { type: 'float32', order: 'ABCD' });
      this.put(2999 + 2 * phase, (powerKw * 1000) / 3 / volts / POWER_FACTOR, { type: 'float32', order: 'ABCD' });
    }
    this.put(3109, 50 + 0.02 * Math.sin(this.ageMs / 11_000), { type: 'float32', order: 'ABCD' });
    this.put(3203, Math.floor(this.energyKwh), { type: 'uint32', order: 'BADC' });
    this.put(3205, EXPORTED_KWH, { type: 'uint32', order: 'BADC' });
    this.put(3219, Math.floor(this.energyKwh * REACTIVE_SHARE), { type: 'uint32', order: 'BADC' });
  }

  private put(offset: number, value: number, layout: Layout): void {
    const words = encode(value, layout);
    if (words.ok) this.bank.set('holding', offset, ...words.value.words);
  }
}
