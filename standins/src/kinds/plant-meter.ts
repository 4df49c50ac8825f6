import { encode, type Layout } from '@plain-envoy/core/value';
import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

const START_KWH = 1_204_500;

/** A meter with floats at high references and energy with swapped bytes. Between its groups there is nothing, and it refuses to read across. */
export class PlantMeter implements StandIn {
  readonly bank = new RegisterBank({
    holding: [
      [3059, 3060],
      [3083, 3084],
      [3203, 3204],
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
    this.put(3083, 0.93, { type: 'float32', order: 'ABCD' });
    this.put(3203, Math.floor(this.energyKwh), { type: 'uint32', order: 'BADC' });
  }

  private put(offset: number, value: number, layout: Layout): void {
    const words = encode(value, layout);
    if (words.ok) this.bank.set('holding', offset, ...words.value.words);
  }
}
