import { encode, type Layout } from '@plain-envoy/core/value';
import { RegisterBank } from '@plain-envoy/engine/server';
import type { StandIn } from './stand-in.js';

const START_KWH = 1_204_500;
const EXPORTED_KWH = 812;
const POWER_FACTOR = 0.93;
const REACTIVE_SHARE = 0.395;

const FREQUENCY = 7396;
const PHASES = 7416;
const POWER = 7440;
const FACTOR = 7460;
const ENERGY = 8120;
const EXPORTED = 8122;
const REACTIVE = 8141;

/** A meter with floats at high references, voltage beside current phase by phase, and energy with swapped bytes. Between its groups there is nothing, and it refuses to read across. */
export class PlantMeter implements StandIn {
  readonly bank = new RegisterBank({
    holding: [
      [FREQUENCY, 7397],
      [PHASES, 7427],
      [POWER, 7441],
      [FACTOR, 7461],
      [ENERGY, 8123],
      [REACTIVE, 8142],
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
    this.put(POWER, powerKw, { type: 'float32', order: 'ABCD' });
    this.put(FACTOR, POWER_FACTOR, { type: 'float32', order: 'ABCD' });
    for (const phase of [0, 1, 2]) {
      const volts = 231.4 - phase * 0.7 + 0.5 * Math.sin(this.ageMs / 7000 + phase);
      this.put(PHASES + 4 * phase, volts, { type: 'float32', order: 'ABCD' });
      this.put(PHASES + 4 * phase + 2, (powerKw * 1000) / 3 / volts / POWER_FACTOR, { type: 'float32', order: 'ABCD' });
    }
    this.put(FREQUENCY, 50 + 0.02 * Math.sin(this.ageMs / 11_000), { type: 'float32', order: 'ABCD' });
    this.put(ENERGY, Math.floor(this.energyKwh), { type: 'uint32', order: 'BADC' });
    this.put(EXPORTED, EXPORTED_KWH, { type: 'uint32', order: 'BADC' });
    this.put(REACTIVE, Math.floor(this.energyKwh * REACTIVE_SHARE), { type: 'uint32', order: 'BADC' });
  }

  private put(offset: number, value: number, layout: Layout): void {
    const words = encode(value, layout);
    if (words.ok) this.bank.set('holding', offset, ...words.value.words);
  }
}
